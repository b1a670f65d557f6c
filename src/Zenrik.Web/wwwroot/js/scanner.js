// Scanners: the handheld one's stand-in, and the camera. Both give a code to `scanned`, as the keyboard's burst does.
"use strict";

const CHANNEL = "zenrik-scanner";
const REPEAT_MS = 1500; // The camera sees the same code many times a second.

// --- The stand-in's own page: codes go to the other windows ----------------------------------------------------------

const standIn = document.getElementById("stand-in");
if (standIn) {
  const channel = new BroadcastChannel(CHANNEL);
  const field = document.getElementById("scan-this");
  const sent = document.getElementById("sent");
  const send = (code) => {
    channel.postMessage(code);
    const again = document.createElement("button");
    again.className = "button code";
    again.textContent = code;
    again.addEventListener("click", () => channel.postMessage(code));
    sent.prepend(again);
    while (sent.children.length > 12) sent.lastChild.remove();
  };
  standIn.addEventListener("submit", (event) => {
    event.preventDefault();
    const code = field.value.trim();
    if (code) send(code);
    field.value = "";
    field.focus();
  });
} else {
  new BroadcastChannel(CHANNEL).addEventListener("message", (event) => window.zenrikScanned?.(String(event.data).slice(0, 200)));
}

// --- Camera ---------------------------------------------------------------------------------------------------------

const camera = document.getElementById("camera");
if (camera && "BarcodeDetector" in window && navigator.mediaDevices?.getUserMedia) {
  camera.hidden = false;
  camera.addEventListener("click", watch);
}

async function watch() {
  const dialog = document.getElementById("camera-view");
  const video = dialog.querySelector("video");
  const said = dialog.querySelector("p");
  let stream;
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: "environment" } });
  } catch {
    said.textContent = "The camera was not opened: the browser was not allowed to, or another program has it.";
    dialog.showModal();
    return;
  }
  said.textContent = "Hold a label in front of the camera.";
  video.srcObject = stream;
  dialog.showModal();
  await video.play();
  const detector = new BarcodeDetector({ formats: ["qr_code", "code_128", "code_39", "data_matrix"] });
  let last = { code: "", at: 0 };
  const look = async () => {
    if (!dialog.open) {
      stream.getTracks().forEach((track) => track.stop());
      return;
    }
    const [found] = await detector.detect(video).catch(() => []);
    if (found && (found.rawValue !== last.code || performance.now() - last.at > REPEAT_MS)) {
      last = { code: found.rawValue, at: performance.now() };
      said.textContent = found.rawValue;
      dialog.close();
      window.zenrikScanned?.(found.rawValue.trim().slice(0, 200));
    }
    requestAnimationFrame(look);
  };
  look();
}
