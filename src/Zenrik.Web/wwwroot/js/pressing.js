// One press answers one thing: what came into view only by the press before it has not been read yet, so a key held down,
// a key that chatters and the second half of a double click do not answer it.

/** No hand presses a key twice within this. */
const CHATTER_MS = 60;
/** A double click at its slowest; who reads what came takes longer. */
const DOUBLE_CLICK_MS = 400;

const loadedAt = performance.now();
let swappedAt = -Infinity;
document.addEventListener("htmx:afterSwap", () => (swappedAt = performance.now()));

/** True while what is shown is too new for a key to be its answer. */
export const chatters = () => performance.now() - swappedAt < CHATTER_MS;

document.addEventListener(
  "click",
  (event) => {
    // Counting and taking back go on press by press.
    const button = event.target.closest?.("button:not([data-again])");
    if (!button || !event.isTrusted) return;
    const byKey = event.detail === 0 && document.activeElement === button && chatters();
    const byDoubleClick = event.detail > 1 && performance.now() - Math.max(loadedAt, swappedAt) < DOUBLE_CLICK_MS;
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
