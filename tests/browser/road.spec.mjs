import { act, apart, doAct, expect, expectedNumber, hand, idleUnit, listens, nextAct, scan, signIn, spaceUntilDone, step, tabTo, test, toTheBench, workUntil } from "./support/test.mjs";

test("a worn battery, from the scan line to the history", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await scan(page, "sk-00417");
  await expect(page.getByRole("heading", { name: "SK-00417" })).toBeVisible();
  const oldItem = workshop.sql(
    "SELECT i.code FROM items i JOIN units u ON u.id = i.unit_id WHERE u.tag = 'SK-00417' AND i.slot = 'battery'",
  );
  const free = () =>
    workshop.sql(
      `SELECT count(*) FROM items i JOIN bins b ON b.id = i.bin_id JOIN catalogue_fits f ON f.number_id = i.number_id
       WHERE b.kind = 'Shelf' AND f.slot = 'battery' AND f.model_code = 'sandpiper-14'`,
    );
  const before = Number(free());

  await page.getByRole("link", { name: "Take in for repair" }).click();
  await page.getByText("The part is known already").click();
  await page.getByLabel("battery worn").check();
  await page.getByLabel("In the user's words").fill("Holds an hour.");
  await page.getByRole("button", { name: "Open the repair" }).click();
  await expect(page.getByText("Before the bench: choose the battery.")).toBeVisible();
  await page.getByRole("button", { name: /^Take IT-/ }).first().click();
  const newItem = workshop.sql("SELECT i.code FROM reservations r JOIN items i ON i.id = r.item_id ORDER BY r.at DESC LIMIT 1");
  await expect(page.getByText("promised to this repair")).toBeVisible();
  const code = new URL(page.url()).pathname.split("/").at(-1);
  await page.getByRole("button", { name: "To the bench" }).click();

  // Screws one by one, then the whole group; a part-count is not taken for done.
  await workUntil(page, /base cover screws/);
  await page.getByRole("button", { name: "One more" }).click();
  await expect(page.locator("output")).toHaveText("1 of 7");
  await page.locator("#done").click();
  await expect(page.getByRole("alert")).toContainText("1 of 7 screws are counted");
  for (let n = 2; n <= 7; n++) {
    await page.getByRole("button", { name: "One more" }).click();
    await expect(page.locator("output")).toHaveText(`${n} of 7`);
  }
  await doAct(page);

  // A reload and a killed program come back to the same act.
  await workUntil(page, /Free the speaker wire tape/);
  await page.reload();
  await expect(act(page)).toHaveText("Free the speaker wire tape");
  await workshop.killAndRestart();
  await page.reload();
  await expect(act(page)).toHaveText("Free the speaker wire tape");
  await expect(page.getByRole("complementary", { name: "Ledger" })).toContainText("battery plug");

  // Undo gives the former act back.
  await doAct(page);
  await page.getByRole("button", { name: /Undo/ }).click();
  await expect(act(page)).toHaveText("Free the speaker wire tape");

  // The caution must be read, and the numbers must be right.
  await workUntil(page, /Lift out the battery/);
  await expect(page.locator(".caution.severe")).toContainText("Lithium");
  await workUntil(page, /Read the number of the new battery/);
  await page.locator("#number").fill("MB 2207-0118-C");
  await page.locator("#done").click();
  await expect(page.getByRole("alert")).toContainText("is not the battery promised to this repair");
  await page.locator("#number").fill("7".repeat(5000));
  await page.locator("#done").click();
  await expect(page.getByRole("alert")).toContainText("5000 characters");
  const slip = (await expectedNumber(page)).replace("0", "O");
  await page.locator("#number").fill(slip);
  await page.locator("#done").click();
  await expect(page.getByRole("alert")).toContainText("easily misread");
  // The scanner's way: the scan line feeds the act, here with the label's whole code.
  await scan(page, `[)>^^06^]1P${await expectedNumber(page)}^]S77-4412^^^D`);
  await expect(act(page)).toHaveText("Put in the new battery and fasten the three battery screws");

  await workUntil(page, /^Power on/);
  await workUntil(page);
  expect(await step(page)).toBeNull();
  await page.getByRole("button", { name: "Close the repair" }).click();
  await expect(page.getByText(`${code} is closed.`)).toBeVisible();
  await expect(page.locator("tr", { hasText: "Minutes taken" })).toBeVisible();

  await scan(page, oldItem);
  await expect(page.getByText("now in quarantine")).toBeVisible();
  await scan(page, "SK-00417");
  const battery = page.locator("tr", { hasText: "Battery" }).first();
  await expect(battery).toContainText(newItem);
  await expect(battery).toContainText("A. Quill");
  await expect(battery).toContainText(code);
  expect(Number(free())).toBe(before - 1);
  await page.goto(`${workshop.url}/history`);
  await expect(page.locator("tbody tr").first()).toContainText(code);
});

test("the board of the same model, its plan from the same map", async ({ page, workshop }) => {
  await signIn(page, workshop, "ines");
  await toTheBench(page, workshop, "no sign of life");
  const paste = Number(workshop.sql("SELECT on_hand FROM lots"));
  await workUntil(page, /Undo the five upper frame screws/);
  await doAct(page);
  await expect(page.getByText("Two lengths in one part.")).toBeVisible();
  const title = await act(page).textContent();
  await page.reload();
  await workshop.killAndRestart();
  await page.reload();
  await expect(act(page)).toHaveText(title);
  await workUntil(page, /Read the number of the old board/);
  await expect(page.locator("#expected")).toContainText("TW-9B1C-40022");
  await workUntil(page, /Clean and paste the heatsink/);
  await workUntil(page);
  await page.getByRole("button", { name: "Close the repair" }).click();
  await expect(page.getByText("is closed.")).toBeVisible();
  expect(Number(workshop.sql("SELECT on_hand FROM lots"))).toBe(paste - 1);
});

test("the whole road with the keyboard alone", async ({ page, workshop }) => {
  const { keyboard } = page;
  await page.goto(`${workshop.url}/sign-in`);
  await keyboard.type("aled");
  await keyboard.press("Tab");
  await keyboard.type("harbour-workshop");
  await keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Counter" })).toBeVisible();
  const tag = idleUnit(workshop);
  await keyboard.press("/");
  await keyboard.type(tag);
  await keyboard.press("Enter");

  await expect(page.getByRole("heading", { name: tag })).toBeVisible();
  await tabTo(page, /^Take in for repair/);
  await keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Take in" })).toBeVisible();
  await tabTo(page, /^The part is known already/);
  await keyboard.press("Enter");
  await tabTo(page, /^battery worn/);
  await keyboard.press("Space");
  await tabTo(page, /^Open the repair/);
  await keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Battery worn" })).toBeVisible();
  await tabTo(page, /^Take IT-/);
  await keyboard.press("Enter");
  await expect(page.getByText("promised to this repair")).toBeVisible();
  await tabTo(page, /^To the bench/);
  await keyboard.press("Enter");
  await expect(act(page)).toBeVisible();
  await listens(page);

  // Count differs, note, undo, help: each by its key.
  while (!/base cover screws/.test(await act(page).textContent())) {
    const before = await step(page);
    await keyboard.press("Space");
    await nextAct(page, before);
  }
  await keyboard.press("n");
  await page.waitForFunction(() => document.activeElement?.id === "note-text");
  await keyboard.type("one foot is missing");
  await keyboard.press("Tab");
  await keyboard.press("Enter");
  await expect(page.getByText("Note: one foot is missing")).toBeVisible();
  await keyboard.press("c");
  await page.waitForFunction(() => document.activeElement?.id === "count");
  await keyboard.press("Control+a");
  await keyboard.type("6");
  await keyboard.press("Tab");
  await keyboard.type("missing");
  await keyboard.press("Tab");
  await keyboard.type("rear left hole empty");
  await keyboard.press("Enter");
  await expect(page.getByText("7 on the map: missing before")).toBeVisible();
  await keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Keys" })).toBeVisible();
  await keyboard.press("Escape");
  await keyboard.press("Backspace");
  await expect(page.getByText("No screw is out.")).toBeVisible();
  await hand(page);

  while (await step(page)) {
    const before = await step(page);
    if (await page.locator("#number").count()) {
      await page.waitForFunction(() => document.activeElement?.id === "number");
      await keyboard.type(await expectedNumber(page));
      await keyboard.press("Enter");
    } else {
      if (await page.locator("#read").count()) {
        await keyboard.press("Space");
        await expect(page.locator("#read-first")).toContainText("Read the caution first");
        await page.waitForTimeout(200); // two keys closer than a hand can are a scanner
        await keyboard.press("r");
        await expect(page.locator("#read")).toBeChecked();
        await keyboard.press("Space");
      } else {
        await spaceUntilDone(page);
      }
    }
    await nextAct(page, before);
  }
  await keyboard.press("Space");
  await expect(page.getByText("is closed.")).toBeVisible();
});

test("the whole road on a phone, by touch", async ({ browser, workshop }) => {
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  const page = await phone.newPage();
  const inReach = async (what) => {
    const box = await what.boundingBox();
    expect(box.y + box.height).toBeLessThanOrEqual(844);
    expect(Math.min(box.width, box.height)).toBeGreaterThanOrEqual(44);
    await what.tap();
  };
  await signIn(page, workshop, "ines");
  const tag = idleUnit(workshop);
  await scan(page, tag);
  await page.getByRole("link", { name: "Take in for repair" }).tap();
  await page.getByText("The part is known already").tap();
  await page.getByLabel("fan noisy", { exact: true }).check();
  await page.getByRole("button", { name: "Open the repair" }).tap();
  await page.getByRole("button", { name: /^Take IT-/ }).first().tap();
  await page.getByRole("button", { name: "To the bench" }).tap();
  await expect(act(page)).toBeVisible();

  // Done is under the thumb, the drawing stays in sight, nothing lies wider than the screen.
  for (let i = 0; i < 3; i++) {
    const before = await step(page);
    await inReach(page.locator("#done"));
    await nextAct(page, before);
    await apart(page);
    await expect(page.locator("svg.machine")).toBeInViewport();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  }

  await workUntil(page);
  await apart(page);
  await inReach(page.locator("#done"));
  await expect(page.getByText("is closed")).toBeVisible();
  await page.goto(`${workshop.url}/history`);
  await expect(page.getByRole("link", { name: tag })).toBeVisible();
  await phone.close();
});
