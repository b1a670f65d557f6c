// Scanners: the handheld one's stand-in, and the camera. Both give a code to `scanned`, as the keyboard's burst does.

import { scanned } from "./scan.js";

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
  new BroadcastChannel(CHANNEL).addEventListener("message", (event) => scanned(String(event.data).slice(0, 200)));
}

// --- Camera ---------------------------------------------------------------------------------------------------------

const camera = document.getElementById("camera");
if (camera && navigator.mediaDevices?.getUserMedia) {
  camera.hidden = false;
  camera.addEventListener("click", watch);
}

/** What finds a code in a picture: the browser's own detector, else the one that ships, which reads what our labels carry. */
async function reader() {
  if ("BarcodeDetector" in window) {
    const detector = new BarcodeDetector({ formats: ["qr_code", "code_128", "code_39", "data_matrix"] });
    return async (video) => (await detector.detect(video).catch(() => []))[0]?.rawValue;
  }
  if (!window.jsQR) {
    await new Promise((done, failed) => {
      const script = document.createElement("script");
      script.src = camera.dataset.reader;
      script.onload = done;
      script.onerror = failed;
      document.head.append(script);
    });
  }
  const canvas = document.createElement("canvas");
  const context = canvas.getContext("2d", { willReadFrequently: true });
  return async (video) => {
    // More points than this only take longer.
    const scale = Math.min(1, 800 / video.videoWidth);
    canvas.width = video.videoWidth * scale;
    canvas.height = video.videoHeight * scale;
    if (canvas.width === 0) return undefined;
    context.drawImage(video, 0, 0, canvas.width, canvas.height);
    const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height);
    return window.jsQR(data, width, height)?.data || undefined;
  };
}

async function watch() {
  const dialog = document.getElementById("camera-view");
  const video = dialog.querySelector("video");
  const said = dialog.querySelector("p");
  let stream;
  let read;
  try {
    read = await reader();
  } catch {
    said.textContent = "The part of the program that reads codes was not loaded. Load the page again, or type the code.";
    dialog.showModal();
    return;
  }
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
  let last = { code: "", at: 0 };
  const look = async () => {
    if (!dialog.open) {
      stream.getTracks().forEach((track) => track.stop());
      return;
    }
    const found = await read(video);
    if (found && (found !== last.code || performance.now() - last.at > REPEAT_MS)) {
      last = { code: found, at: performance.now() };
      said.textContent = found;
      dialog.close();
      scanned(found.trim().slice(0, 200));
    }
    requestAnimationFrame(look);
  };
  look();
}
