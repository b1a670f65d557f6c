// Room Maps: two points of a photograph, the place of a finding, a plan act by act.

import { pointsOf, textOf } from "../placing.js";
import { byId } from "../scan.js";

// --- Two points of a photograph ---------------------------------------------------------------------------------------

document.addEventListener("click", (event) => {
  if (event.target.id !== "picture") return;
  const picture = event.target;
  const box = picture.getBoundingClientRect();
  const at = {
    x: ((event.clientX - box.left) / box.width) * picture.naturalWidth,
    y: ((event.clientY - box.top) / box.height) * picture.naturalHeight,
  };
  const points = document.querySelector("[name=Picture]");
  const known = pointsOf(points.value);
  points.value = textOf([...(known.length > 1 ? [] : known), at]);
  mark();
});

/** Shows both points on the photograph, and sends its size with them. */
function mark() {
  const picture = document.getElementById("picture");
  if (!picture?.naturalWidth) return;
  document.querySelector("[name=Width]").value = picture.naturalWidth;
  document.querySelector("[name=Height]").value = picture.naturalHeight;
  document.querySelectorAll(".picture-point").forEach((point) => point.remove());
  pointsOf(document.querySelector("[name=Picture]").value).forEach((at, i) => {
    const point = document.createElement("span");
    point.className = "picture-point";
    point.textContent = i + 1;
    point.style.left = `${(at.x / picture.naturalWidth) * 100}%`;
    point.style.top = `${(at.y / picture.naturalHeight) * 100}%`;
    picture.parentElement.append(point);
  });
}

document.getElementById("picture")?.addEventListener("load", mark);
document.querySelector("[name=Picture]")?.addEventListener("input", mark);
mark();

// --- Findings ---------------------------------------------------------------------------------------------------------

// A click on a finding's drawing writes its place into the first empty line.
document.addEventListener("click", (event) => {
  const svg = event.target.closest(".findings-mat .machine");
  const empty = [...document.querySelectorAll(".place")].find((line) => line.querySelector("input").value === "");
  if (!svg || !empty) return;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const [x, y] = empty.querySelectorAll("input");
  x.value = at.x.toFixed(1);
  y.value = at.y.toFixed(1);
});

// The arrow keys step through the plan.
document.addEventListener("keydown", (event) => {
  const stepper = { ArrowLeft: "step-back", ArrowRight: "step-on" }[event.key];
  if (stepper && byId(stepper) && !event.target.closest?.("select, textarea, input:not([type=checkbox])")) {
    event.preventDefault();
    byId(stepper).click();
  }
});
