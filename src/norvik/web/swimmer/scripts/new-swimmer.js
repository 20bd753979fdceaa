// A new swimmer by name alone, beside the list of swimmers: nothing typed elsewhere is lost.

export {};

const token = document.querySelector('meta[name="csrf-token"]').content;

for (const place of document.querySelectorAll("[data-new-swimmer]")) {
  const open = place.querySelector("[data-open]");
  const name = place.querySelector("[data-name]");
  const told = place.parentElement.querySelector("[data-new-swimmer-told]");
  const list = place.parentElement.querySelector("select");

  open.addEventListener("click", () => {
    name.hidden = !name.hidden;
    if (!name.hidden) name.focus();
  });
  name.addEventListener("keydown", (event) => {
    if (event.key === "Escape") name.hidden = true;
    if (event.key !== "Enter") return;
    event.preventDefault();
    add();
  });

  async function add() {
    let answer;
    try {
      answer = await fetch(place.dataset.address, {
        method: "POST",
        body: new URLSearchParams({ name: name.value }),
        headers: { "X-CSRFToken": token, Accept: "application/json" },
      });
    } catch {
      return tell("No connection: press Enter again.");
    }
    const said = await answer.json().catch(() => ({}));
    if (!answer.ok) return tell(said.sentence ?? "This name cannot be used.");
    let option = [...list.options].find((o) => o.value === String(said.id));
    if (!option) {
      option = new Option(said.name, said.id);
      list.append(option);
    }
    list.value = String(said.id);
    list.dispatchEvent(new Event("change", { bubbles: true }));
    tell("");
    name.value = "";
    name.hidden = true;
    list.focus();
  }

  function tell(sentence) {
    told.textContent = sentence;
    told.hidden = !sentence;
  }
}
