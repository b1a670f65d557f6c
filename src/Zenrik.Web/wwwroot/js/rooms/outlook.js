// Room Outlook: the bench calendar by keys.

import { byId } from "../scan.js";

// Within a job of the calendar a key presses the button that is marked with it.
document.addEventListener("keydown", (event) => {
  const job = event.target.closest?.(".hands li");
  if (!job || event.ctrlKey || event.altKey || event.metaKey) return;
  const button = job.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
  if (!button) return;
  event.preventDefault();
  button.click();
});

// Where the better plan takes the place of the first one, the hand stays on what it was at.
const sameThing = (e) => `${e.getAttribute("href") ?? ""} ${e.getAttribute("aria-label") ?? e.textContent}`;
let handAt = null;
document.addEventListener("htmx:beforeSwap", (event) => {
  const at = document.activeElement;
  handAt = event.detail.target?.id === "calendar" && event.detail.target.contains(at) ? sameThing(at) : null;
});
document.addEventListener("htmx:afterSettle", () => {
  if (handAt === null) return;
  [...byId("calendar").querySelectorAll("a, button, select, input, summary")].find((e) => sameThing(e) === handAt)?.focus({ preventScroll: true });
  handAt = null;
});
