// The plan: a session is dragged to another day, a point before another one. Everything else is
// worked out on the server; both can also be done with the date field and the buttons.

let dragged = null;

document.addEventListener("dragstart", (event) => {
  const what = event.target.closest?.("[data-session].chip, [data-fault]");
  if (!what) return;
  dragged = { session: what.dataset.session, fault: what.dataset.fault };
  event.dataTransfer.effectAllowed = "move";
  event.dataTransfer.setData("text/plain", what.dataset.session ?? what.dataset.fault);
});

function target(event) {
  if (!dragged) return null;
  return event.target.closest?.(dragged.session ? "td[data-day]" : "#focuses [data-fault]");
}

document.addEventListener("dragover", (event) => {
  const over = target(event);
  document.querySelectorAll(".drop-here").forEach((el) => el.classList.toggle("drop-here", el === over));
  if (!over) return;
  event.preventDefault();
  over.classList.add("drop-here");
});

document.addEventListener("drop", (event) => {
  const over = target(event);
  if (!over) return;
  event.preventDefault();
  const plan = document.getElementById("plan");
  const open = plan.dataset.session;
  const [path, values] = dragged.session
    ? ["move", { session: dragged.session, to: over.dataset.day }]
    : ["order", { fault: dragged.fault, before: over.dataset.fault, session: open }];
  dragged = null;
  window.htmx.ajax("POST", `/plans/${plan.dataset.plan}/${path}`, {
    target: "#plan",
    swap: "outerHTML",
    values,
  });
});

document.addEventListener("dragend", () => {
  dragged = null;
  document.querySelectorAll(".drop-here").forEach((el) => el.classList.remove("drop-here"));
});
