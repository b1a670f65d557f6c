import { chromium } from "@playwright/test";
import { rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, signIn, test } from "./support/test.mjs";

/** One picture as a film that a browser takes for a camera's: YUV4MPEG2, grey. */
async function film(page, png, width, height) {
  const grey = await page.evaluate(
    async ({ png, width, height }) => {
      const picture = new Image();
      picture.src = `data:image/png;base64,${png}`;
      await picture.decode();
      const canvas = Object.assign(document.createElement("canvas"), { width, height });
      const context = canvas.getContext("2d");
      context.fillStyle = "#bbb";
      context.fillRect(0, 0, width, height);
      context.drawImage(picture, (width - 260) / 2, (height - 260) / 2, 260, 260);
      const { data } = context.getImageData(0, 0, width, height);
      return Array.from({ length: width * height }, (_, i) => data[i * 4]);
    },
    { png: png.toString("base64"), width, height },
  );
  const colours = Buffer.alloc((width * height) / 2, 128);
  const frame = Buffer.concat([Buffer.from("FRAME\n"), Buffer.from(grey), colours]);
  return Buffer.concat([Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`), ...Array(5).fill(frame)]);
}

test("a label held before the camera is read where the browser has no reader of its own", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await page.goto(`${workshop.url}/labels?kind=unit&codes=SK-00417`);
  const label = page.locator("g.label svg").first();
  await label.evaluate((svg) => document.body.replaceChildren(Object.assign(svg, {}), Object.assign(document.createElement("style"), { textContent: "svg{width:480px;height:480px;margin:40px;background:#fff}" })));
  await page.locator("svg").evaluate((svg) => {
    svg.setAttribute("width", "480");
    svg.setAttribute("height", "480");
  });
  const png = await page.locator("svg").screenshot();
  const path = join(tmpdir(), `zenrik-camera-${process.pid}.y4m`);
  // A page without a content policy draws the picture.
  await page.goto("about:blank");
  writeFileSync(path, await film(page, png, 640, 480));
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream", `--use-file-for-fake-video-capture=${path}`],
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
