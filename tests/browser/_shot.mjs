import { chromium } from "@playwright/test";
const [user, pass, out, ...steps] = process.argv.slice(2);
const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] });
const page = await browser.newPage({ viewport: { width: Number(process.env.W ?? 1280), height: Number(process.env.H ?? 800) } });
const base = process.env.BASE ?? "http://127.0.0.1:5217";
await page.goto(base + "/sign-in");
await page.getByLabel("Name").fill(user);
await page.getByLabel("Password").fill(pass);
await page.getByRole("button", { name: "Sign in" }).click();
await page.waitForLoadState();
for (const step of steps) {
  const [, kind, rest] = step.match(/^(\w+)=([\s\S]*)$/);
  if (kind === "go") await page.goto(base + rest);
  else if (kind === "click") await page.locator(rest).first().click();
  else if (kind === "fill") { const [sel, val] = rest.split("::"); await page.locator(sel).first().fill(val); }
  else if (kind === "key") await page.keyboard.press(rest);
  else if (kind === "wait") await page.waitForTimeout(Number(rest));
  else if (kind === "js") console.log(await page.evaluate(rest));
  else if (kind === "shot") await page.screenshot({ path: rest, fullPage: !!process.env.FULL });
}
await page.screenshot({ path: out, fullPage: !!process.env.FULL });
await browser.close();
