// Takes the pictures in docs/screenshots from a running demo:   ./zenrik start   then   npm run screenshots [-- name …]
// With ZENRIK_SHOTS set, into that folder instead.
import { mkdirSync } from "node:fs";
import { chromium } from "@playwright/test";
import config from "./playwright.config.mjs";
import { byWayOfTheCage, entered } from "./support/ownMachine.mjs";
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

// The steps of docs/own-machines.md, on machines of their own: only where it is asked for, as it adds to the demo.
if (wanted.includes("first-machine")) {
  const steps = new URL("../../docs/first-machine/", import.meta.url).pathname;
  mkdirSync(steps, { recursive: true });
  const look = (name) => page.screenshot({ path: `${steps}/${name}.png` });
  await page.setViewportSize({ width: 1280, height: 800 });
  await entered(page, url, "Ortolan 13", ["SK-91101", "SK-91102"], look);
  await byWayOfTheCage(page, url, "SK-91101", look);
  const places = { "base-cover": "0,0 320,220", "drive-cage": "30,120 120,200", fan: "200,20 260,80" };
  for (const [part, place] of Object.entries(places)) {
    await page.goto(`${url}/maps/ortolan-13/draft`);
    const line = page.locator(".draft-things > li", { has: page.locator(`[data-of="${part}"]`) });
    await line.getByText("Change").click();
    await line.getByLabel("Its place, mm").fill(place);
    await line.getByRole("button", { name: "Place it" }).click();
    await page.getByText("Kept.").waitFor();
  }
  await page.goto(`${url}/maps/ortolan-13/draft`);
  await look("3-draft");
  await page.goto(`${url}/maps/ortolan-13?goal=replace:fan`);
  await look("4-plan");
}

await browser.close();
