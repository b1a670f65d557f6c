import { apart, expect, faultsOf, hand, signIn, test, wcag } from "./support/test.mjs";

async function begin(page, workshop, level) {
  await page.goto(`${workshop.url}/practice?model=sandpiper-14`);
  await page.getByLabel("Sandpiper 14: what is to be done").selectOption("replace:battery");
  await page.getByRole("radio", { name: level }).check();
  await page.getByRole("button", { name: "Begin" }).first().click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Exchange the battery");
}

const said = (page) => page.locator(".verdict .judged");
const drawn = (page, id) => page.locator(`.machine [data-id="${id}"]`).first();
const tool = (page, name) => page.getByLabel(name, { exact: true }).check();

/** Clicks a thing where it is painted: of a group of screws, the first. */
async function at(page, id, how = "click") {
  const box = await drawn(page, id).locator("rect, circle").first().boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await (how === "tap" ? page.touchscreen.tap(x, y) : page.mouse.click(x, y));
}

/** A move by its button, seen through to what was said of it: a second press on the way would be dropped. */
async function press(page, name, heard) {
  await page.getByRole("button", { name }).click();
  await expect(said(page)).toHaveText(heard);
}

async function toTheInside(page, how) {
  await press(page, "Shut down, charger out", "Shut down, charger out");
  await press(page, "Look it over", /^Look it over/);
  await tool(page, "eject pin");
  await press(page, "lift out: SIM tray", "Lift out the SIM tray");
  await press(page, "Turn it over", "Turn the machine over");
  await tool(page, "PH0");
  await at(page, "base-screws", how);
  await expect(said(page)).toHaveText("Loosen the seven base cover screws");
  await tool(page, "plastic pry tool");
  await press(page, "lift out: base cover", "Lift out the base cover");
}

test("a battery in the drawing, by mouse: a taped wire tears, and the run goes on after a reload", async ({ page, workshop }) => {
  await signIn(page, workshop, "bo");
  await begin(page, workshop, /^By the drawing/);
  // Forced with its screws in: nothing happens to a drawing, but it is said.
  await at(page, "base-screws");
  await expect(said(page)).toContainText("Before the machine is touched");
  await toTheInside(page);
  await at(page, "battery-plug");
  await expect(said(page)).toHaveText("Isolate: open the battery plug");
  await tool(page, "T5");
  await at(page, "battery-screws");
  await expect(said(page)).toContainText("The T5 turns in the recess and rounds it");
  await tool(page, "PH0");
  await at(page, "battery-screws");
  await expect(said(page)).toHaveText("Undo the three battery screws");
  await at(page, "battery");
  await expect(said(page)).toHaveText("The speaker wire tape still holds it: the cable tears.");
  await expect(page.locator(".verdict .cost")).toContainText("Exchanging the speakers takes");

  await page.reload();
  await expect(said(page)).toHaveText("The speaker wire tape still holds it: the cable tears.");
  await expect(page.locator(".sight")).toContainText("no power");
  expect(await faultsOf(page, (axe) => axe.withTags(wcag))).toEqual([]);

  // The same run in a second window: what is stale there is said and changes nothing.
  const other = await page.context().newPage();
  await other.goto(page.url());
  await page.getByRole("button", { name: "Turn it over" }).click();
  await expect(said(page)).toHaveText("Turn the machine over");
  await other.getByRole("button", { name: "Turn it over" }).click();
  await expect(other.getByRole("alert")).toContainText("made in another window");
  await other.close();

  await page.goto(`${workshop.url}/practice`);
  await page.getByRole("link", { name: "Go on" }).first().click();
  await expect(page.locator(".sight")).toContainText("no power");
});

test("guided through by the keyboard alone, to a hundred points", async ({ page, workshop }) => {
  await signIn(page, workshop, "ines");
  await begin(page, workshop, /^Guided/);
  await page.locator("#hinted").focus();
  while ((await page.locator("#hinted").count()) > 0) {
    const before = await page.locator("[name=Seen]").inputValue();
    await page.keyboard.press("Enter");
    await expect(page.locator("[name=Seen]")).not.toHaveValue(before);
    await hand(page);
  }
  await page.getByRole("button", { name: "Finished" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.locator(".points-won")).toHaveText("100 of 100");

  // The list is walked by arrow keys, the tools by figures.
  await begin(page, workshop, /^By the drawing/);
  await page.getByRole("button", { name: "Shut down, charger out" }).press("Enter");
  await expect(said(page)).toHaveText("Shut down, charger out");
  await hand(page);
  await page.getByRole("button", { name: "Look it over" }).press("Enter");
  await expect(page.getByRole("group", { name: "In your hand" })).toBeVisible();
  await page.keyboard.press("t");
  await expect(said(page)).toHaveText("Turn the machine over");
  await page.keyboard.press("3");
  await expect(page.getByLabel("PH0", { exact: true })).toBeChecked();
  await page.keyboard.press("ArrowDown");
  await expect(page.locator(".sight button:focus")).toHaveCount(1);
});

test("a fault is found in a machine that answers, and what it was is told at the end", async ({ page, workshop }) => {
  await signIn(page, workshop, "tove");
  await page.goto(`${workshop.url}/practice?model=thimble-11`);
  await page.getByLabel("Thimble 11 comes in for").selectOption("will-not-start");
  await page.getByRole("button", { name: "Begin" }).nth(1).click();
  const choices = page.locator(".choices.wide button");
  await choices.first().click();
  await expect(page.locator(".ledger tr")).toHaveCount(1);
  // Read in one go: when it is over the field is gone.
  const standing = () => page.evaluate(() => document.querySelector("[name=Seen]")?.value ?? "over");
  for (let i = 0; i < 40 && (await standing()) !== "over"; i++) {
    const before = await standing();
    await choices.last().click();
    await expect.poll(standing).not.toBe(before);
  }
  await expect(page.getByText(/^It was: /)).toBeVisible();
  await expect(page.locator(".points-won")).toContainText("of 100");
});

test("ten labels are typed, and a repair is run through before it is done", async ({ page, workshop }) => {
  await signIn(page, workshop, "aled");
  await page.goto(`${workshop.url}/practice`);
  await page.getByRole("button", { name: /^Read labels/ }).click();
  for (let i = 1; i <= 10; i++) {
    await expect(page.getByRole("heading", { level: 1 })).toHaveText(`Label ${i} of 10`);
    const printed = await page.locator(".worn-label .number").textContent();
    await page.getByLabel("Number").fill(i === 4 ? printed.slice(1) : printed.toLowerCase().replaceAll("-", " "));
    await page.keyboard.press("Enter");
  }
  await expect(page.locator(".points-won")).toHaveText("90 of 100");
  await expect(page.getByText("a character is missing")).toBeVisible();

  await page.goto(`${workshop.url}/repairs/R-1005`);
  await page.getByRole("button", { name: "Run through it in the drawing" }).click();
  await expect(page.getByRole("heading", { name: "Where most goes wrong" })).toBeVisible();
  await expect(page.locator(".risky li")).toHaveCount(3);
});

test("joints open by the motion of the hand, with pointer and arrow keys; one of three numbers fits", async ({ page, workshop }) => {
  await signIn(page, workshop, "tove");
  await page.goto(`${workshop.url}/practice`);
  await page.getByRole("button", { name: /^How does it open/ }).click();
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText(/^1 of /);
  const seen = page.locator("[name=Seen]");
  const hint = page.locator(".how");
  // Whatever is asked before the flip-lock ribbon opens straight up, like a coax snap, or is answered wrongly; both go on.
  let asked = 1;
  const key = async (name) => {
    const was = await seen.inputValue();
    // A press while the answer to the last one comes is dropped, as a hand would notice.
    await expect(async () => {
      await page.keyboard.press(name);
      await expect(seen).not.toHaveValue(was, { timeout: 3000 });
    }).toPass();
  };
  for (; !(await page.locator("#question").textContent()).includes("flip-lock ribbon"); asked++) {
    await key("ArrowUp");
    if ((await heading.textContent()).startsWith(`${asked} of`)) await key("ArrowDown");
    await expect(heading).toHaveText(new RegExp(`^${asked + 1} of `));
  }
  // The bar up, then the ribbon out, to the side its lead is on.
  const before = Number(await seen.inputValue());
  const box = await page.locator(".joint-shape").boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y - 60, { steps: 4 });
  await page.mouse.up();
  await expect(hint).toHaveText("Good. And then?");
  const mirrored = (await page.locator(".joint-shape g").getAttribute("transform")) !== null;
  await page.keyboard.press(mirrored ? "ArrowRight" : "ArrowLeft");
  await expect(page.locator(".verdict .where")).toHaveText("right");
  await expect(heading).toHaveText(new RegExp(`^${asked + 1} of `));
  await page.keyboard.press("ArrowDown");
  await expect(page.locator(".verdict.wrong .judged")).toContainText("Like that");
  await page.reload();
  await expect(seen).toHaveValue(String(before + 3));
  expect(await faultsOf(page)).toEqual([]);

  await page.goto(`${workshop.url}/practice`);
  await page.getByRole("button", { name: /^Which one fits/ }).click();
  for (;;) {
    const title = await heading.textContent();
    if (title === "Which one fits?") break;
    // Pressed before the page listens it is lost, and faster than any hand it is a scanner's: a hand would notice.
    await expect(async () => {
      await page.evaluate(() => document.activeElement.blur());
      await page.keyboard.press("2");
      await expect(heading).not.toHaveText(title, { timeout: 3000 });
    }).toPass();
  }
  await expect(page.locator(".points-won")).toContainText("of 100");
});

test.describe("by touch", () => {
  test.use({ hasTouch: true, viewport: { width: 390, height: 844 } });
  test("a battery is exchanged under the thumb: in the drawing out, by the button back", async ({ page, workshop }) => {
    await signIn(page, workshop, "ines");
    await begin(page, workshop, /^By the drawing/);
    await toTheInside(page, "tap");
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);

    await begin(page, workshop, /^Guided/);
    const hinted = page.locator("#hinted");
    let inTheDrawing = 0;
    while ((await hinted.count()) > 0) {
      const seen = await page.locator("[name=Seen]").inputValue();
      const [, thing] = (await hinted.getAttribute("value")).match(/^(?:undo|open|isolate|free):(.+)$/) ?? [];
      if (thing) {
        inTheDrawing++;
        await drawn(page, thing).scrollIntoViewIfNeeded();
        await at(page, thing, "tap");
      } else {
        await apart(page);
        await hinted.tap();
      }
      await expect(page.locator("[name=Seen]")).not.toHaveValue(seen);
      await expect(page.locator(".verdict.wrong")).toHaveCount(0);
    }
    // The cover's screws, the plug, the tape, the battery's screws.
    expect(inTheDrawing).toBe(4);
    await apart(page);
    await page.getByRole("button", { name: "Finished" }).tap();
    await expect(page.locator(".points-won")).toHaveText("100 of 100");
  });
});
