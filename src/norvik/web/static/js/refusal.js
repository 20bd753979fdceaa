// A refusal stands where it was asked for, and goes as soon as something succeeds.

let asked = null;

function clear() {
  for (const told of document.querySelectorAll("[data-refusal]")) told.remove();
  const notice = document.getElementById("notice");
  if (notice?.getAttribute("role") === "alert") {
    const empty = document.createElement("div");
    empty.id = "notice";
    notice.replaceWith(empty);
  }
}

/** Off the screen, or under what sticks to its edges? */
function hidden(element) {
  const { top, bottom } = element.getBoundingClientRect();
  return bottom <= 0 || top >= window.innerHeight;
}

document.body.addEventListener("htmx:beforeRequest", (event) => {
  asked = event.detail.elt;
});
document.body.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.successful) clear();
});
document.body.addEventListener("htmx:afterSwap", () => {
  const notice = document.getElementById("notice");
  if (notice?.getAttribute("role") !== "alert") return;
  for (const told of document.querySelectorAll("[data-refusal]")) told.remove();
  if (!asked?.isConnected || !hidden(notice)) return;
  // Said once more beside the control, for whoever does not see the top of the page.
  const told = document.createElement("p");
  told.className = "complaint";
  told.dataset.refusal = "";
  told.setAttribute("role", "alert");
  told.textContent = notice.textContent;
  const place = asked.closest("form") ?? asked;
  place.after(told);
  told.scrollIntoView({ block: "nearest" });
});
