// Takes the pictures in docs/screenshots from a running demo:   ./zenrik start   then   npm run screenshots [-- name …]
// With ZENRIK_SHOTS set, into that folder instead.
import { mkdirSync } from "node:fs";
import { chromium } from "@playwright/test";
import config from "./playwright.config.mjs";
import { views } from "./support/views.mjs";

const url = process.env.ZENRIK_URL ?? "http://127.0.0.1:5217";
const folder = process.env.ZENRIK_SHOTS ?? new URL("../../docs/screenshots/", import.meta.url).pathname;
const wanted = process.argv.slice(2);

mkdirSync(folder, { recursive: true });
const browser = await chromium.launch(config.use.launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(`${url}/sign-in`);
await page.getByLabel("Name").fill("mara");
await page.getByLabel("Password").fill("harbour-workshop");
await page.getByRole("button", { name: "Sign in" }).click();
for (const [name, { address, before }] of Object.entries(views)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(url + address);
  await page.waitForFunction(() => !document.querySelector("[aria-busy=true]"));
  await before?.(page);
  await page.screenshot({ path: `${folder}/${name}.png` });
}
await browser.close();
