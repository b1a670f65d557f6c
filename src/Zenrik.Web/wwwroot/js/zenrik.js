// Keys, scanner and unsaved acts. Every act is an ordinary form; without this file all of them still work.
"use strict";

const SCANNER_GAP_MS = 35; // A handheld scanner types faster than any hand.
const RETRY_MS = 2000;

const byId = (id) => document.getElementById(id);
const isTyping = (target) => target.closest("input, textarea, select, [contenteditable], dialog[open]") !== null;

// --- Scan line -----------------------------------------------------------------------------------------------------

let burst = "";
let lastKeyAt = 0;
let pendingShortcut = 0;

/** Feeds a key pressed outside any field; true when it belongs to a scanner's burst. */
function scannerTakes(event) {
  const quick = event.timeStamp - lastKeyAt < SCANNER_GAP_MS;
  lastKeyAt = event.timeStamp;
  if (event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return false;
  burst = quick ? burst + event.key : event.key;
  const scan = byId("scan");
  if (burst.length < 2 || !scan) return false;
  clearTimeout(pendingShortcut);
  scan.value = burst;
  scan.focus();
  burst = "";
  return true;
}

// At the bench a part number belongs to the act that asks for one; tags and repairs still lead where they name.
document.addEventListener("submit", (event) => {
  const number = byId("number");
  if (!event.target.matches(".scan") || !number) return;
  const code = byId("scan").value.trim();
  if (code === "" || /^(SK-|R-|IT-)/i.test(code)) return;
  event.preventDefault();
  number.value = code;
  byId("scan").value = "";
  byId("number-form").requestSubmit();
});

// --- Keys at the bench ---------------------------------------------------------------------------------------------

function open(id) {
  const details = byId(id);
  if (!details) return;
  details.open = !details.open;
  if (details.open) details.querySelector("input:not([type=hidden]), textarea, select")?.focus();
}

const shortcuts = {
  " ": () => {
    const unread = document.querySelector("#read:not(:checked)");
    if (unread) unread.focus();
    else if (byId("number")) byId("number").focus();
    else byId("done")?.click();
  },
  Backspace: () => byId("undo")?.click(),
  c: () => open("differs"),
  n: () => open("note"),
  p: () => byId("number")?.focus(),
  h: () => open("how-joint"),
  "?": () => byId("keys")?.showModal(),
};

document.addEventListener("keydown", (event) => {
  // In Maps the arrow keys step through the plan.
  const stepper = { ArrowLeft: "step-back", ArrowRight: "step-on" }[event.key];
  if (stepper && byId(stepper) && !event.target.closest("select, textarea, input:not([type=checkbox])")) {
    event.preventDefault();
    byId(stepper).click();
    return;
  }
  if (isTyping(event.target)) return;
  if (event.key === "/") {
    event.preventDefault();
    byId("scan")?.focus();
    return;
  }
  if (scannerTakes(event)) {
    event.preventDefault();
    return;
  }
  const act = shortcuts[event.key];
  // A focused button or link keeps its own meaning of space.
  const ownSpace = event.key === " " && event.target.closest("button, a, summary") && event.target.id !== "done";
  if (!act || ownSpace || event.ctrlKey || event.metaKey || event.altKey || event.repeat || !byId("bench")) return;
  event.preventDefault();
  // Letters wait a moment: they may be the first of a scanner's burst.
  if (event.key.length === 1 && event.key !== " ") pendingShortcut = setTimeout(act, SCANNER_GAP_MS * 2);
  else act();
});

// A click on the screws that are next counts one.
document.addEventListener("click", (event) => {
  if (event.target.closest(".machine .screw.next")) byId("more")?.click();
});

// --- Acts that could not be sent -----------------------------------------------------------------------------------

function sayUnsaved(text) {
  let banner = byId("unsaved");
  if (!text) {
    banner?.remove();
    return;
  }
  if (!banner) {
    banner = document.createElement("p");
    banner.id = "unsaved";
    banner.className = "notice trouble";
    banner.setAttribute("role", "alert");
    byId("notice").append(banner);
  }
  banner.textContent = text;
}

// The same form is sent again with the same request number, so an act that did arrive is not doubled.
document.addEventListener("htmx:sendError", (event) => {
  const form = event.detail.elt;
  sayUnsaved("Not saved yet: the program does not answer. This act is sent again until it is saved; everything before it is safe.");
  setTimeout(() => {
    if (form.isConnected) htmx.trigger(form, "submit");
  }, RETRY_MS);
});

document.addEventListener("htmx:responseError", () => {
  sayUnsaved("This act was not taken: the page is too old, or you were signed out. Nothing was changed; load the page again.");
});

document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.xhr?.status === 200) {
    sayUnsaved("");
    const notice = byId("notice");
    if (event.detail.target?.id === "bench" && notice) notice.replaceChildren();
  }
});

// After each act the page is ready for the next one: the number's field, the caution, or the one large button.
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.target.id !== "bench" && !byId("bench")) return;
  if (document.activeElement && document.activeElement !== document.body) return;
  (byId("number") ?? byId("read") ?? byId("done"))?.focus({ preventScroll: true });
});

if (byId("number") && byId("number").value === "") byId("number").focus();
