// Room Bench: a key for everything an act offers, and what others record at the same bench.

import "../placing.js";
import { chatters } from "../pressing.js";
import { byId, isTyping, soon } from "../scan.js";

function toggle(id) {
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
    if (chatters(byId("bench"))) return;
    if (document.querySelector("#read:not(:checked)")) readFirst();
    else if (byId("number")) byId("number").focus();
    else if (byId("done")?.dataset.deliberate && document.activeElement !== byId("done")) byId("done").focus();
    else byId("done")?.click();
  },
  Backspace: () => byId("undo")?.click(),
  c: () => toggle("differs"),
  n: () => toggle("note"),
  p: () => byId("number")?.focus(),
  r: () => {
    if (!byId("read")?.checked) byId("read")?.click();
  },
  h: () => toggle("how-joint"),
  f: () => toggle("photo-here"),
  s: () => toggle("leave"),
  x: () => toggle("fails"),
  o: () => toggle("instead"),
  w: () => toggle("while-inside"),
  "!": () => toggle("danger"),
  "?": () => byId("keys")?.showModal(),
};
// Things known by name, and the points of a check, are picked by their number.
for (let n = 1; n <= 9; n++) shortcuts[n] = () => (byId(`pick-${n}`) ?? byId(`point-${n}`))?.click();

document.addEventListener("keydown", (event) => {
  // What the scan line took is no shortcut.
  if (event.defaultPrevented || isTyping(event.target)) return;
  // On the drawing of a draft the keys place things.
  if (event.target.closest?.(".draft-mat .machine")) return;
  const act = shortcuts[event.key];
  // A focused button or link keeps its own meaning of space.
  const ownSpace = event.key === " " && event.target.closest?.("button, a, summary, input") && event.target.id !== "done";
  if (!act || ownSpace || event.ctrlKey || event.metaKey || event.altKey || event.repeat || !byId("bench")) return;
  event.preventDefault();
  if (event.key.length === 1 && event.key !== " ") soon(act);
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

// After each act the page is ready for the next one: the number's field, the caution, or the one large button.
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.target.id !== "bench" && !byId("bench")) return;
  if (document.activeElement && document.activeElement !== document.body) return;
  const done = byId("done")?.dataset.deliberate ? null : byId("done");
  (byId("number") ?? document.querySelector(".caution.severe") ?? document.querySelector(".points input") ?? done)?.focus({ preventScroll: true });
});

// What was asked for while the machine is open begins with its first choice.
document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.xhr?.status === 200) document.querySelector("#while-inside .fill input")?.focus();
});

if (byId("number") && byId("number").value === "") byId("number").focus();
