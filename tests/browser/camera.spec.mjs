import { chromium } from "@playwright/test";
import { rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import config from "./playwright.config.mjs";
import { expect, signIn, test } from "./support/test.mjs";

/** A QR code in the middle of a grey picture, as a film that a browser takes for a camera's: YUV4MPEG2, grey. */
async function film(page, { side, drawn }, width, height) {
  const grey = await page.evaluate(
    ({ side, drawn, width, height }) => {
      const canvas = Object.assign(document.createElement("canvas"), { width, height });
      const context = canvas.getContext("2d");
      context.fillStyle = "#bbb";
      context.fillRect(0, 0, width, height);
      context.fillStyle = "#fff";
      context.fillRect(width / 2 - 150, height / 2 - 150, 300, 300);
      context.translate(width / 2 - 130, height / 2 - 130);
      context.scale(260 / side, 260 / side);
      context.fillStyle = "#000";
      context.fill(new Path2D(drawn));
      const { data } = context.getImageData(0, 0, width, height);
      return Array.from({ length: width * height }, (_, i) => data[i * 4]);
    },
    { side, drawn, width, height },
  );
  const colours = Buffer.alloc((width * height) / 2, 128);
  const frame = Buffer.concat([Buffer.from("FRAME\n"), Buffer.from(grey), colours]);
  return Buffer.concat([Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`), ...Array(5).fill(frame)]);
}

test("a label held before the camera is read where the browser has no reader of its own", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await page.goto(`${workshop.url}/labels?kind=unit&codes=SK-00417`);
  const code = await page
    .locator("g.label svg")
    .first()
    .evaluate((svg) => ({ side: svg.viewBox.baseVal.width, drawn: svg.querySelector("path").getAttribute("d") }));
  const path = join(tmpdir(), `zenrik-camera-${process.pid}.y4m`);
  writeFileSync(path, await film(page, code, 640, 480));
  const browser = await chromium.launch({
    ...config.use.launchOptions,
    args: [...config.use.launchOptions.args, "--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream", `--use-file-for-fake-video-capture=${path}`],
  });
  try {
    const seen = await browser.newPage();
    await seen.addInitScript(() => delete window.BarcodeDetector);
    await signIn(seen, workshop);
    await seen.getByRole("button", { name: "camera" }).click();
    await expect(seen.getByRole("heading", { name: "SK-00417" })).toBeVisible();
  } finally {
    await browser.close();
    rmSync(path);
  }

  // Without a camera it is said so, and the scan line stays.
  const without = await page.context().browser().newPage();
  await signIn(without, workshop);
  await without.getByRole("button", { name: "camera" }).click();
  await expect(without.getByText("The camera was not opened")).toBeVisible();
  await without.getByRole("button", { name: "Close" }).click();
  await without.close();
});
