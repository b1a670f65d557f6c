// Room Practice: a click in the drawing is a click in the list beside it, and keys reach both. Without it the list does all.

const list = () => document.querySelector(".sight");
const form = () => document.querySelector("form.practice");

/** Sends a move that no button of the list stands for. The button goes with the form, which is exchanged by the answer. */
function send(what) {
  const move = Object.assign(document.createElement("button"), { name: "What", value: what, hidden: true });
  form().append(move);
  move.click();
}

/** What was clicked while the move before it was still on its way. */
let pending = null;

/** Does what a thing offers; where it offers several ways, shows them. What is out of sight is gone for all the same. */
function work(id) {
  if (form()?.classList.contains("htmx-request")) {
    pending = id;
    return;
  }
  const line = [...(list()?.querySelectorAll("[data-thing]") ?? [])].find((l) => l.dataset.thing === id);
  const ways = line?.querySelectorAll("button") ?? [];
  if (ways.length === 1) ways[0].click();
  if (!line) send(`at:${id}`);
  if (ways.length < 2) return;
  list()
    .querySelectorAll(".chosen")
    .forEach((l) => l.classList.remove("chosen"));
  line.classList.add("chosen");
  line.scrollIntoView({ block: "center" });
  ways[0].focus({ preventScroll: true });
}

document.addEventListener("click", (event) => {
  const drawn = event.target.closest?.("[data-clicks] .machine [data-id]");
  if (!drawn) return;
  // A decoy is in no list: who works at it finds out.
  if (drawn.classList.contains("decoy")) send(`decoy:${drawn.dataset.id}`);
  else work(drawn.dataset.id);
});

// A joint is opened by the motion of the hand: an arrow key, or a stroke in the drawing.
const quiz = () => document.querySelector("form.quiz");
const press = (button) => button && !quiz().classList.contains("htmx-request") && button.click();

document.addEventListener("keydown", (event) => {
  if (!quiz() || event.ctrlKey || event.metaKey || event.altKey || document.activeElement?.matches("input")) return;
  const way = event.key.startsWith("Arrow") && quiz().querySelector(`[value="${event.key.slice(5).toLowerCase()}"]`);
  const choice = /^[1-9]$/.test(event.key) && quiz().querySelector(`[data-key="${event.key}"]`);
  if (!way && !choice) return;
  event.preventDefault();
  press(way || choice);
});

/** Millimetres are of no matter: a stroke counts from a finger's breadth on, in the direction it mostly goes. */
const LEAST_STROKE = 24;
let from = null;
document.addEventListener("pointerdown", (event) => {
  if (event.target.closest?.("[data-motion] svg")) from = { x: event.clientX, y: event.clientY };
});
document.addEventListener("pointerup", (event) => {
  if (!from) return;
  const [x, y] = [event.clientX - from.x, event.clientY - from.y];
  from = null;
  if (Math.max(Math.abs(x), Math.abs(y)) < LEAST_STROKE) return;
  const way = Math.abs(x) > Math.abs(y) ? (x > 0 ? "right" : "left") : y > 0 ? "down" : "up";
  press(quiz()?.querySelector(`[value="${way}"]`));
});

document.addEventListener("keydown", (event) => {
  if (!form() || event.ctrlKey || event.metaKey || event.altKey) return;
  const at = document.activeElement;
  if (at?.matches("input[type=number], #scan")) return;
  if (["ArrowDown", "ArrowUp"].includes(event.key) && !at?.matches("input[type=radio]")) {
    const all = [...list().querySelectorAll("button")];
    const to = all.indexOf(at) + (event.key === "ArrowDown" ? 1 : -1);
    event.preventDefault();
    all[Math.max(0, Math.min(all.length - 1, to))]?.focus();
  } else if (event.key === "t") {
    event.preventDefault();
    form().querySelector('button[value="turn-over:"]')?.click();
  } else if (/^[1-9]$/.test(event.key)) {
    const tool = form().querySelector(`[data-key="${event.key}"]`);
    if (!tool) return;
    event.preventDefault();
    tool.checked = true;
  }
});

// After a move the hand goes on where it was: at the next thing of the list, or at what is said to come next.
let row = 0;
document.addEventListener("htmx:beforeRequest", () => {
  const all = [...(list()?.querySelectorAll("button") ?? [])];
  row = Math.max(0, all.indexOf(document.activeElement));
});
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.target.id !== "run") return;
  if (pending !== null) {
    const id = pending;
    pending = null;
    work(id);
    return;
  }
  const hinted = document.getElementById("hinted");
  const all = [...(list()?.querySelectorAll("button") ?? [])];
  (hinted ?? document.getElementById("label-read") ?? all[Math.min(row, all.length - 1)])?.focus({ preventScroll: true });
});
