// The scan line: keys that come faster than any hand are a scanner's, and a code goes to the field that wants one.

const SCANNER_GAP_MS = 35;

export const byId = (id) => document.getElementById(id);

export const isTyping = (target) =>
  target instanceof Element &&
  target.closest("input:not([type=checkbox], [type=radio]), textarea, select, [contenteditable], dialog[open]") !== null;

let burst = "";
let lastKeyAt = 0;
let pending = 0;

/** Does what a key stands for after a moment: it may be the first of a scanner's burst. */
export function soon(act) {
  pending = setTimeout(act, SCANNER_GAP_MS * 2);
}

/** Feeds a key pressed outside any field; true when it belongs to a scanner's burst. */
function scannerTakes(event) {
  const quick = event.timeStamp - lastKeyAt < SCANNER_GAP_MS;
  lastKeyAt = event.timeStamp;
  // A field filled in by the browser itself is announced as a key that has no name.
  if (event.key?.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return false;
  // No scanner holds a key down, and no code begins with a blank: the bar pressed twice is the hand's.
  if (event.repeat) return false;
  burst = ((quick ? burst : "") + event.key).trimStart();
  const scan = byId("scan");
  if (burst.length < 2 || !scan) return false;
  clearTimeout(pending);
  const field = takesScans() ?? scan;
  if (field.tagName === "TEXTAREA") field.value = field.value.replace(/\n*$/, (end) => (field.value === "" ? "" : end || "\n")) + burst;
  else field.value = burst;
  field.focus();
  burst = "";
  return true;
}

/** The field that wants what is scanned on this page: a count's, a box's. */
export const takesScans = () => document.querySelector("[data-takes-scans]");

/** A whole code from the camera or the scanner's stand-in. */
export function scanned(code) {
  const field = takesScans();
  if (!field) {
    byId("scan").value = code;
    byId("scan").form.requestSubmit();
  } else if (field.tagName === "TEXTAREA") {
    field.value += (field.value === "" || field.value.endsWith("\n") ? "" : "\n") + code + "\n";
    field.dispatchEvent(new Event("input", { bubbles: true }));
  } else {
    field.value = code;
    field.form.requestSubmit();
  }
}

// At the bench a part number or an item's label belongs to the act that asks for one; tags and repairs still lead where they name. Which of
// them a code is, the server knows.
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (!form.matches(".scan")) return;
  // The act may be another by now than the one the page came with.
  if (!byId("number")) form.elements.bench?.remove();
  const code = byId("scan").value.trim();
  if (!byId("number") || !code) return;
  event.preventDefault();
  const kind = await fetch(`/scan?handler=Kind&code=${encodeURIComponent(code)}`).then(
    (answer) => (answer.ok ? answer.text() : ""),
    () => "",
  );
  const number = byId("number");
  if (!number || !["number", "item", "unknown"].includes(kind)) return form.submit();
  number.value = code;
  byId("scan").value = "";
  byId("number-form").requestSubmit();
});

document.addEventListener("keydown", (event) => {
  if (event.defaultPrevented || isTyping(event.target)) return;
  if (event.key === "/") {
    event.preventDefault();
    byId("scan")?.focus();
  } else if (scannerTakes(event)) {
    event.preventDefault();
  }
});

document.addEventListener("htmx:afterSettle", (event) => {
  if (["count", "issue"].includes(event.target.id)) takesScans()?.focus({ preventScroll: true });
});
