// One press answers one thing: what came into view only by the press before it has not been read yet, so a key held down,
// a key that chatters and the second half of a double click do not answer it.

/** No hand presses a key twice within this. */
const CHATTER_MS = 60;
/** A double click at its slowest; who reads what came takes longer. */
const DOUBLE_CLICK_MS = 400;

const loadedAt = performance.now();
const swapped = new WeakMap();
document.addEventListener("htmx:afterSwap", (event) => swapped.set(event.target, performance.now()));

/** For how long an element has stood there, ms; one that came with the page: endlessly. What came elsewhere is of no matter. */
function shownFor(element) {
  let at = -Infinity;
  for (let part = element; part; part = part.parentElement) at = Math.max(at, swapped.get(part) ?? -Infinity);
  return performance.now() - at;
}

/** True while an element is too new for a key to be its answer. */
export const chatters = (element) => shownFor(element) < CHATTER_MS;

document.addEventListener(
  "click",
  (event) => {
    // Counting and taking back go on press by press.
    const button = event.target.closest?.("button:not([data-again])");
    if (!button || !event.isTrusted) return;
    const byKey = event.detail === 0 && document.activeElement === button && chatters(button);
    const byDoubleClick = event.detail > 1 && Math.min(shownFor(button), performance.now() - loadedAt) < DOUBLE_CLICK_MS;
    if (!byKey && !byDoubleClick) return;
    event.preventDefault();
    event.stopPropagation();
  },
  true,
);

document.addEventListener(
  "keydown",
  (event) => {
    if (event.repeat && [" ", "Enter"].includes(event.key) && (event.target === document.body || event.target.closest?.("button, summary")))
      event.preventDefault();
  },
  true,
);
