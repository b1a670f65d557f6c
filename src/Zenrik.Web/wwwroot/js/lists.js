// Lists: the arrow keys walk from row to row; space ticks, Enter opens; units are ticked for one act.

import { byId } from "./scan.js";

document.addEventListener("keydown", (event) => {
  const row = event.target.closest?.(".walk tbody tr");
  const step = { ArrowDown: "nextElementSibling", ArrowUp: "previousElementSibling" }[event.key];
  if (!row || !step) return;
  const kind = event.target.type === "checkbox" ? "input[type=checkbox]" : "a";
  const next = row[step]?.querySelector(kind);
  if (!next) return;
  event.preventDefault();
  next.focus();
});

let lastTicked = null;
document.addEventListener("click", (event) => {
  const box = event.target;
  if (box.id === "tick-all") {
    document.querySelectorAll(".bulk input[name=tags]").forEach((other) => (other.checked = box.checked));
  } else if (box.name === "tags" && box.closest(".bulk")) {
    // With shift, everything from the one ticked before to this one.
    const all = [...document.querySelectorAll(".bulk input[name=tags]")];
    const [from, to] = [all.indexOf(lastTicked), all.indexOf(box)].sort((a, b) => a - b);
    if (event.shiftKey && from >= 0) all.slice(from, to + 1).forEach((other) => (other.checked = box.checked));
    lastTicked = box;
  } else return;
  const count = document.querySelectorAll(".bulk input[name=tags]:checked").length;
  byId("ticked").textContent = count === 0 ? "those ticked" : count === 1 ? "the one ticked" : `the ${count} ticked`;
});
