// The swimmer's page: chapters, moving drills, and answers that wait on the phone without a line.

const WAITING = `norvik-answers-${location.pathname}`;

document.addEventListener("click", (event) => {
  const chapter = event.target.closest("[data-at]");
  if (chapter) {
    const film = /** @type {HTMLVideoElement} */ (document.getElementById("film"));
    film.currentTime = Number(chapter.dataset.at);
    film.play();
  }
  const figure = event.target.closest("[data-loop]");
  if (figure) {
    const picture = figure.querySelector("img");
    [picture.src, figure.dataset.loop] = [figure.dataset.loop, picture.getAttribute("src")];
  }
});

const waiting = () => JSON.parse(localStorage.getItem(WAITING) ?? "[]");
const keep = (all) => localStorage.setItem(WAITING, JSON.stringify(all));

/** Sends what waits. Gives the answer to the last one, or null without a line. */
async function send() {
  let told = null;
  for (const values of waiting()) {
    let answer;
    try {
      answer = await fetch("answers", {
        method: "POST",
        body: new URLSearchParams(values),
        headers: { Accept: "application/json" },
      });
    } catch {
      return null;
    }
    if (answer.status >= 500) return null;
    told = { fine: answer.ok, ...(await answer.json().catch(() => ({}))) };
    keep(waiting().filter(({ key }) => key !== values.key));
  }
  return told;
}

document.addEventListener("submit", async (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  event.preventDefault();
  const told = form.querySelector(".told");
  const button = form.querySelector("button");
  button.disabled = true;
  const values = Object.fromEntries(new FormData(form));
  values.key = crypto.randomUUID?.() ?? `answer-${Date.now()}-${Math.random().toString(36).slice(2)}`;
  keep([...waiting(), values]);
  const answer = await send();
  button.disabled = false;
  told.textContent =
    answer?.sentence ?? "No connection: it is sent as soon as this page is open with a connection.";
  if (answer?.fine) form.reset();
});

window.addEventListener("online", send);
send();
// What opens by an account is not kept in the browser: the next person here may be another.
if (document.querySelector("meta[name=offline]")) {
  navigator.serviceWorker?.register("worker.js", { scope: "./" }).catch(() => {});
}

export {};
