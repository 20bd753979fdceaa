// Where this person stopped: kept a moment after the film stands still, and when the page is left.

const AFTER_MS = 800;

export function keepPlace(stage, url, token) {
  let leaving = null;
  const save = () => {
    clearTimeout(leaving);
    const body = new URLSearchParams({ frame: stage.shown });
    const headers = { "X-CSRFToken": token };
    fetch(url, { method: "POST", body, headers, keepalive: true }).catch(() => {});
  };
  stage.addEventListener("frame", () => {
    if (stage.playing) return;
    clearTimeout(leaving);
    leaving = setTimeout(save, AFTER_MS);
  });
  addEventListener("pagehide", save);
}
