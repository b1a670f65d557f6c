// Acts that could not be sent are sent again; what was refused is said. Every act is an ordinary form: without scripts all
// of them still work.

import { byId } from "./scan.js";

const RETRY_MS = 2000;

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
  }
});

// A form that takes a while goes the plain way; the page says so while the answer is waited for, and the button cannot be
// pressed twice.
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
