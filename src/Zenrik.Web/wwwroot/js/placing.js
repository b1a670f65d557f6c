// Places in millimetres, taken from the drawing of a draft by mouse, touch or keys. Without it they are typed.

const SVG = "http://www.w3.org/2000/svg";
const SNAP_MM = 2.5;
const STEP_MM = 1;
const LARGE_STEP_MM = 10;

const machine = () => document.querySelector(".draft-mat .machine");
// Only where something can be placed is there something to go to by keys.
const reachable = () => document.getElementById("placing") && machine()?.setAttribute("tabindex", "0");
reachable();

const openLine = () => document.querySelector(".thing[open]");
const round = (mm) => Number(mm.toFixed(1));

/** The field a place goes into: the one last touched of the open line, or its first. */
function field() {
  const line = openLine();
  const fields = [...(line?.querySelectorAll(".places") ?? [])];
  return fields.find((f) => f === document.activeElement || f.dataset.last === "true") ?? fields[0];
}

export const pointsOf = (text) =>
  text
    .trim()
    .split(/\s+/)
    .map((word) => word.split(",").map(Number))
    .filter(([x, y]) => Number.isFinite(x) && Number.isFinite(y))
    .map(([x, y]) => ({ x, y }));

export const textOf = (points) => points.map((p) => `${round(p.x)},${round(p.y)}`).join(" ");

/** Edges of what is drawn draw a place near them onto themselves. */
function snapped(at) {
  if (!document.getElementById("snap")?.checked) return at;
  const own = openLine()?.dataset.of;
  const edges = { x: [], y: [] };
  for (const part of machine().querySelectorAll(".part")) {
    const shape = part.querySelector("rect, circle, path");
    if (!shape || part.dataset.id === own) continue;
    const box = shape.getBBox();
    edges.x.push(box.x, box.x + box.width);
    edges.y.push(box.y, box.y + box.height);
  }
  const nearest = (value, lines) => {
    const line = lines.reduce((best, l) => (Math.abs(l - value) < Math.abs(best - value) ? l : best), Infinity);
    return Math.abs(line - value) <= SNAP_MM ? line : value;
  };
  return { x: nearest(at.x, edges.x), y: nearest(at.y, edges.y) };
}

function place(at) {
  const places = field();
  if (!places) return;
  const pattern = openLine().querySelector(".copy-from")?.value;
  if (pattern) {
    // The places of another group, its first at the point that was shown.
    const others = pointsOf(pattern);
    places.value = textOf(others.map((p) => ({ x: p.x - others[0].x + at.x, y: p.y - others[0].y + at.y })));
    openLine().querySelector(".copy-from").value = "";
  } else {
    places.value = textOf([...pointsOf(places.value), at]);
  }
  preview();
}

function takeBack() {
  const places = field();
  if (!places) return;
  places.value = textOf(pointsOf(places.value).slice(0, -1));
  preview();
}

function draw(parent, name, attributes, text) {
  const element = parent.appendChild(document.createElementNS(SVG, name));
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  if (text) element.textContent = text;
}

let cursor = null; // Where the keys are on the drawing, mm.

/** What is being placed, as it would lie. */
function preview() {
  const svg = machine();
  if (!svg) return;
  svg.querySelector(".placing")?.remove();
  const group = svg.appendChild(document.createElementNS(SVG, "g"));
  group.setAttribute("class", "placing");
  const places = field();
  const points = places ? pointsOf(places.value) : [];
  const form = places?.closest("form").querySelector("[name=Shaped]:checked")?.value;
  const [a, b] = points;
  if (form === "rectangle" && b) {
    draw(group, "rect", { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), width: Math.abs(a.x - b.x), height: Math.abs(a.y - b.y) });
  } else if (form === "circle" && b) {
    draw(group, "circle", { cx: a.x, cy: a.y, r: Math.hypot(a.x - b.x, a.y - b.y) });
  } else if (points.length > 1 && (form === "outline" || places.dataset.line)) {
    draw(group, form === "outline" ? "polygon" : "polyline", { points: textOf(points) });
  }
  points.forEach((p, i) => {
    draw(group, "circle", { class: "spot", cx: p.x, cy: p.y, r: 1.6 });
    draw(group, "text", { x: p.x + 2.4, y: p.y - 2.4, "font-size": 5.4 }, String(i + 1));
  });
  if (cursor) draw(group, "path", { class: "cursor", d: `M${cursor.x - 6},${cursor.y}h12M${cursor.x},${cursor.y - 6}v12` });
  for (const held of svg.querySelectorAll(".held")) held.classList.remove("held");
  const id = openLine()?.dataset.of;
  if (id) svg.querySelector(`[data-id="${CSS.escape(id)}"]`)?.classList.add("held");
  const bar = document.getElementById("placing");
  if (bar) {
    bar.hidden = !places;
    bar.querySelector("b").textContent = openLine()?.dataset.name ?? "";
    const wanted = Number(places?.dataset.wanted);
    bar.querySelector("output").textContent = `${points.length}${wanted ? ` of ${wanted}` : ""} ${points.length === 1 ? "place" : "places"}`;
  }
}

document.addEventListener("click", (event) => {
  const svg = event.target.closest(".draft-mat .machine");
  if (!svg) return;
  if (!openLine()) {
    // Nothing is being placed: what was touched opens.
    const id = event.target.closest("[data-id]")?.dataset.id;
    const line = id && document.querySelector(`.thing[data-of="${CSS.escape(id)}"]`);
    if (line) {
      line.open = true;
      line.scrollIntoView({ block: "nearest" });
    }
    return;
  }
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  place(snapped({ x: at.x, y: at.y }));
});

document.addEventListener("keydown", (event) => {
  if (!event.target.matches?.(".draft-mat .machine") || !openLine()) return;
  const step = event.shiftKey ? LARGE_STEP_MM : STEP_MM;
  const box = machine().viewBox.baseVal;
  cursor ??= { x: round(box.x + box.width / 2), y: round(box.y + box.height / 2) };
  const moves = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] };
  if (moves[event.key]) cursor = { x: cursor.x + moves[event.key][0], y: cursor.y + moves[event.key][1] };
  else if (event.key === "Enter" || event.key === " ") place(snapped(cursor));
  else if (event.key === "Backspace") takeBack();
  else if (event.key === "Escape") {
    field().focus();
    cursor = null;
  } else return;
  event.preventDefault();
  preview();
});

document.addEventListener("focusin", (event) => {
  if (!event.target.matches(".places")) return;
  for (const other of document.querySelectorAll(".places")) other.dataset.last = String(other === event.target);
  preview();
});

document.addEventListener("input", (event) => {
  if (event.target.matches(".places, [name=Shaped]")) preview();
  if (event.target.id === "picture-strength") machine().style.setProperty("--picture", event.target.value / 100);
});

document.addEventListener("click", (event) => {
  if (event.target.closest("#point-back")) takeBack();
});

// One line at a time, or a click would not know whose place it is.
document.addEventListener(
  "toggle",
  (event) => {
    if (!event.target.matches?.(".thing")) return;
    reachable();
    if (event.target.open) document.querySelectorAll(".thing[open]").forEach((other) => (other.open = other === event.target));
    cursor = null;
    preview();
  },
  true,
);

// What was being changed is open again when the page comes back; at the bench, where work goes on, only what was refused.
const OPEN = "zenrik-open-line";
document.addEventListener("submit", (event) => {
  const line = event.target.closest(".thing");
  if (line?.dataset.of) sessionStorage.setItem(OPEN, line.dataset.of);
});
const last = sessionStorage.getItem(OPEN);
sessionStorage.removeItem(OPEN);
const refused = document.querySelector("[role=alert]") !== null;
const again = last && document.querySelector(`.thing[data-of="${CSS.escape(last)}"]`);
if (again && (refused || !again.closest(".tray"))) {
  again.open = true;
  again.scrollIntoView({ block: "nearest" });
}

// The tray stays as it was folded; on a narrow screen, where it would stand before the next act, it begins folded.
const TRAY = "zenrik-tray";
const NARROW_PX = 700;
function fold() {
  const tray = document.querySelector(".tray");
  if (tray) tray.open = localStorage.getItem(TRAY) ? localStorage.getItem(TRAY) === "open" : innerWidth >= NARROW_PX;
}
document.addEventListener("click", (event) => {
  const tray = event.target.closest(".tray > summary")?.parentElement;
  if (tray) localStorage.setItem(TRAY, tray.open ? "folded" : "open");
});
document.addEventListener("htmx:afterSettle", fold);
if (!refused) fold();
