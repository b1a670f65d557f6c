// Keys, scanner and unsaved acts. Every act is an ordinary form; without this file all of them still work.
"use strict";

const SCANNER_GAP_MS = 35; // A handheld scanner types faster than any hand.
const RETRY_MS = 2000;

const byId = (id) => document.getElementById(id);
const isTyping = (target) =>
  target instanceof Element &&
  target.closest("input:not([type=checkbox], [type=radio]), textarea, select, [contenteditable], dialog[open]") !== null;

// --- Scan line -----------------------------------------------------------------------------------------------------

let burst = "";
let lastKeyAt = 0;
let pendingShortcut = 0;

/** Feeds a key pressed outside any field; true when it belongs to a scanner's burst. */
function scannerTakes(event) {
  const quick = event.timeStamp - lastKeyAt < SCANNER_GAP_MS;
  lastKeyAt = event.timeStamp;
  // A field filled in by the browser itself is announced as a key that has no name.
  if (event.key?.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return false;
  burst = quick ? burst + event.key : event.key;
  const scan = byId("scan");
  if (burst.length < 2 || !scan) return false;
  clearTimeout(pendingShortcut);
  const field = takesScans() ?? scan;
  if (field.tagName === "TEXTAREA") field.value = field.value.replace(/\n*$/, (end) => (field.value === "" ? "" : end || "\n")) + burst;
  else field.value = burst;
  field.focus();
  burst = "";
  return true;
}

/** The field that wants what is scanned on this page: a count's, a box's. */
const takesScans = () => document.querySelector("[data-takes-scans]");

/** A whole code from the camera or the scanner's stand-in. */
window.zenrikScanned = (code) => {
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
};

// At the bench a part number belongs to the act that asks for one; tags and repairs still lead where they name. Which of
// them a code is, the server knows.
document.addEventListener("submit", async (event) => {
  const form = event.target;
  const code = byId("scan")?.value.trim();
  if (!form.matches(".scan") || !byId("number") || !code) return;
  event.preventDefault();
  const kind = await fetch(`/scan?handler=Kind&code=${encodeURIComponent(code)}`).then(
    (answer) => (answer.ok ? answer.text() : ""),
    () => "",
  );
  const number = byId("number");
  if (!number || !["number", "unknown"].includes(kind)) return form.submit();
  number.value = code;
  byId("scan").value = "";
  byId("number-form").requestSubmit();
});

// --- Lists ----------------------------------------------------------------------------------------------------------

// In a list the arrow keys walk from row to row; space ticks, Enter opens.
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

// --- Keys at the bench ---------------------------------------------------------------------------------------------

function open(id) {
  const details = byId(id);
  if (!details) return;
  details.open = !details.open;
  if (details.open) details.querySelector("input:not([type=hidden]), textarea, select")?.focus();
}

/** Space never acknowledges: it points at what is to be read, and at the key that says so. */
function readFirst() {
  document.querySelector(".caution.severe")?.focus();
  byId("read-first").textContent = "Read the caution first. R says that you have.";
}

// From one point of a check to the next, and then to the answer.
document.addEventListener("change", (event) => {
  if (!event.target.matches?.(".points input")) return;
  (document.querySelector(".points input:not(:checked)") ?? byId("done"))?.focus({ preventScroll: true });
});

// What was read stays read: the key that says done cannot take it back.
document.addEventListener("change", (event) => {
  if (event.target.id !== "read") return;
  event.target.checked = true;
  byId("read-first").textContent = "";
  byId("done").focus({ preventScroll: true });
});

const shortcuts = {
  " ": () => {
    if (document.querySelector("#read:not(:checked)")) readFirst();
    else if (byId("number")) byId("number").focus();
    else if (byId("done")?.dataset.deliberate && document.activeElement !== byId("done")) byId("done").focus();
    else byId("done")?.click();
  },
  Backspace: () => byId("undo")?.click(),
  c: () => open("differs"),
  n: () => open("note"),
  p: () => byId("number")?.focus(),
  r: () => {
    if (!byId("read")?.checked) byId("read")?.click();
  },
  h: () => open("how-joint"),
  f: () => open("photo-here"),
  s: () => open("leave"),
  x: () => open("fails"),
  o: () => open("instead"),
  w: () => open("while-inside"),
  "!": () => open("danger"),
  "?": () => byId("keys")?.showModal(),
};
// Things known by name, and the points of a check, are picked by their number.
for (let n = 1; n <= 9; n++) shortcuts[n] = () => (byId(`pick-${n}`) ?? byId(`point-${n}`))?.click();

document.addEventListener("keydown", (event) => {
  // In Maps the arrow keys step through the plan.
  const stepper = { ArrowLeft: "step-back", ArrowRight: "step-on" }[event.key];
  if (stepper && byId(stepper) && !event.target.closest?.("select, textarea, input:not([type=checkbox])")) {
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
  const ownSpace = event.key === " " && event.target.closest?.("button, a, summary, input") && event.target.id !== "done";
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

// A keyboard is tried by its keys: each that answers is counted, so that none is forgotten.
const heard = new Set();
document.addEventListener("keydown", (event) => {
  const field = event.target;
  if (field.id !== "keys-heard") return;
  if (event.key === "Tab" || event.key === "Enter") return;
  event.preventDefault();
  heard.add(event.code || event.key);
  byId("keys-count").textContent = `${heard.size} ${heard.size === 1 ? "key has" : "different keys have"} answered, last ${event.code || event.key}`;
});

// --- What others record ---------------------------------------------------------------------------------------------

const LISTEN_AGAIN_MS = 5000;
const SETTLE_MS = 250; // This page's own act is answered before its news is looked at.
let news = null;

const isWriting = () =>
  [...document.querySelectorAll("#bench input:not([type=hidden]), #bench textarea")].some((field) =>
    field.type === "checkbox" || field.type === "radio" ? field.checked !== field.defaultChecked : field.value !== field.defaultValue,
  );

/** Shows the bench as it is now; what somebody is writing is not taken from under their hands. */
function lookAgain() {
  const bench = byId("bench");
  if (!bench) return;
  if (!isWriting()) {
    htmx.ajax("GET", location.pathname, { target: "#bench", swap: "outerHTML" });
    return;
  }
  if (byId("news-here")) return;
  const banner = document.createElement("p");
  banner.id = "news-here";
  banner.className = "notice news-here";
  banner.setAttribute("role", "status");
  banner.textContent = "Somebody has gone on at this bench. What you are writing is still here. ";
  const show = document.createElement("button");
  show.className = "button";
  show.textContent = "Show it as it is now";
  show.addEventListener("click", () => {
    banner.remove();
    htmx.ajax("GET", location.pathname, { target: "#bench", swap: "outerHTML" });
  });
  banner.append(show);
  byId("notice").append(banner);
}

function listen(lost = false) {
  const address = byId("bench")?.dataset.news;
  if (!address || news) return;
  news = new EventSource(address);
  news.onopen = () => {
    if (lost) lookAgain();
    lost = false;
  };
  news.onerror = () => {
    lost = true;
    // Refused, not just interrupted: a browser does not ask again by itself.
    if (news.readyState !== EventSource.CLOSED) return;
    news = null;
    setTimeout(() => listen(true), LISTEN_AGAIN_MS);
  };
  news.onmessage = (event) => {
    const lines = Number(event.data);
    if (lines === 0) return;
    setTimeout(() => {
      const bench = byId("bench");
      if (bench && news && (lines < 0 || lines > Number(bench.dataset.seen)) && !document.querySelector("#bench .htmx-request")) lookAgain();
    }, SETTLE_MS);
  };
}

listen();
window.addEventListener("pagehide", () => news?.close());
// A form that goes the plain way leads to a page of its own: what it tells others is no news here.
document.addEventListener("submit", (event) => {
  if (event.target.matches("[hx-post], .scan, [method=dialog]")) return;
  news?.close();
  news = null;
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

document.addEventListener("htmx:responseError", (event) => {
  if (event.detail.xhr?.status === 403) {
    sayUnsaved("This is not yours to do: your sign-in may look at the bench and not work at it. Nothing was changed.");
    return;
  }
  // Who worked by badge is told so in words.
  const says = event.detail.xhr?.status === 401 ? event.detail.xhr.responseText : "";
  sayUnsaved(says || "This act was not taken: the page is too old, or you were signed out. Nothing was changed; load the page again.");
});

document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.xhr?.status === 200) {
    sayUnsaved("");
    const notice = byId("notice");
    if (event.detail.target?.id === "bench" && notice) notice.replaceChildren();
    // What was asked for while the machine is open begins with its first choice.
    document.querySelector("#while-inside .fill input")?.focus();
  }
});

// After each act the page is ready for the next one: the number's field, the caution, or the one large button.
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.target.id !== "bench" && !byId("bench")) return;
  if (document.activeElement && document.activeElement !== document.body) return;
  const done = byId("done")?.dataset.deliberate ? null : byId("done");
  (byId("number") ?? document.querySelector(".caution.severe") ?? document.querySelector(".points input") ?? done)?.focus({ preventScroll: true });
});

document.addEventListener("htmx:afterSettle", (event) => {
  if (["count", "issue"].includes(event.target.id)) takesScans()?.focus({ preventScroll: true });
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

if (byId("number") && byId("number").value === "") byId("number").focus();

// --- Work that takes a while ---------------------------------------------------------------------------------------

// The form goes the plain way; the page says so while the answer is waited for, and the button cannot be pressed twice.
document.addEventListener("submit", (event) => {
  if (!event.target.matches?.("form[data-long]")) return;
  event.target.querySelector("button[type=submit]").setAttribute("disabled", "");
  event.target.parentElement.querySelector(".long-work")?.removeAttribute("hidden");
  const far = event.target.parentElement.querySelector("[data-how-far]");
  if (!far) return;
  // Until the answer comes and this page goes.
  setInterval(async () => {
    const said = await fetch(far.dataset.howFar).then((answer) => (answer.ok ? answer.text() : ""), () => "");
    if (said) far.textContent = said;
  }, 1000);
});

// --- The bench calendar ----------------------------------------------------------------------------------------------

// Within a job of the calendar a key presses the button that is marked with it.
document.addEventListener("keydown", (event) => {
  const job = event.target.closest?.(".hands li");
  if (!job || event.ctrlKey || event.altKey || event.metaKey) return;
  const button = job.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
  if (!button) return;
  event.preventDefault();
  button.click();
});
