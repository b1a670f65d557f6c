import { goOn, name, readNumber } from "./naming.mjs";
import { expect, step } from "./test.mjs";

/** Pictures of a road; a test that takes none passes nothing. */
const none = async () => {};

/** Enters a model with two units: what an empty workshop begins with. */
export async function entered(page, url, model, tags, look = none) {
  await page.goto(`${url}/maps/new`);
  await page.getByLabel("Maker").fill("Tarnwell");
  await page.getByLabel("Model", { exact: true }).fill(model);
  await page.getByLabel("It is a").selectOption({ label: "laptop" });
  await look("1-model");
  await page.getByRole("button", { name: "Enter it" }).click();
  await page.getByRole("link", { name: "Scan tag and serial" }).click();
  await page.locator("#lines").fill(tags.map((tag, i) => `${tag}\nORD${i}${tag.slice(-3)}\n`).join(""));
  await page.getByLabel("For the site").fill("Ferry Office");
  await page.getByRole("button", { name: "Enter them" }).click();
  await expect(page.getByText(`${tags.length} units of the ${model} entered`)).toBeVisible();
}

/** Takes a unit in for what its user notices; gives the repair's code. */
export async function takenIn(page, url, tag, noticed = /does not charge/i) {
  await page.goto(`${url}/counter/take-in/${tag}`);
  // What is sure already stands folded beneath what users notice.
  await page.evaluate(() => document.querySelectorAll("details.stage").forEach((fold) => (fold.open = true)));
  await page.getByLabel(noticed).first().check();
  await page.getByRole("button", { name: "Open the repair" }).click();
  await expect(page).toHaveURL(/repairs\/R-\d+/);
  return page.url().match(/R-\d+/)[0];
}

/** A first repair without a map: the fan is reached by way of the drive cage, which need not be; the fan is exchanged. */
export async function byWayOfTheCage(page, url, tag, look = none) {
  const repair = await takenIn(page, url, tag);
  await page.goto(`${url}/repairs/${repair}`);
  await page.getByRole("button", { name: "To the bench, without a map" }).click();
  await goOn(page, async () => (await page.locator(".name-form").count()) > 0);
  await name(page, "screws", "base screws", (form) => form.getByLabel("How many").fill("8"));
  await name(page, "part", "base cover");
  const seen = await page.locator("#bench").getAttribute("data-seen");
  await page.getByRole("button", { name: "The battery is unplugged" }).click();
  await expect(page.locator("#bench")).not.toHaveAttribute("data-seen", seen);
  await name(page, "plug or ribbon", "fan plug");
  await name(page, "screws", "cage screws", (form) => form.getByLabel("How many").fill("6"));
  await name(page, "part", "drive cage", (form) => form.getByLabel("fan plug").uncheck());
  await name(page, "screws", "fan screws", (form) => form.getByLabel("How many").fill("3"));
  await page.locator(".name-form").getByLabel("part", { exact: true }).check();
  await page.locator(".name-form").getByLabel("Name, as you would call it").fill("fan");
  await page.locator(".name-form").getByLabel("another one goes in").check();
  await page.locator(".name-form").getByLabel("fan plug").check();
  await look("2-bench");
  await name(page, "part", "fan");
  await readNumber(page, "ORD-7001-01");
  await goOn(page, async () => (await page.locator("#number").count()) > 0);
  await readNumber(page, "ORD-7001-02");
  await goOn(page, async () => !(await step(page)));
  await page.locator("#done").click();
  await expect(page.getByText("is closed")).toBeVisible();
}

/** A second repair, planned by the draft: what came out of the first is good after all and goes in; up to the bench. */
export async function planned(page, url, tag) {
  await page.goto(`${url}/scan?code=ORD-7001-01`);
  await page.locator('main a[href^="/stores/items/"]').first().click();
  const release = page.locator("form", { has: page.getByRole("button", { name: "Back to the shelf" }) });
  await release.getByLabel("To bin").fill("B-01");
  await release.getByLabel("How that is known").fill("cleaned, it runs");
  await release.getByRole("button").click();
  const repair = await takenIn(page, url, tag, /fan does not work/i);
  await page.goto(`${url}/repairs/${repair}/fit`);
  return repair;
}
