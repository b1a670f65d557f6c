import jsQR from "jsqr";
import { expect, idle, scan, scanned, signIn, test } from "./support/test.mjs";
import { cut, onPaper } from "./support/paper.mjs";

test("a box of Chromebooks is scanned in and taken in together", async ({ page, workshop }) => {
  const tags = idle(workshop, "thimble-11", 4);
  await signIn(page, workshop, "tove");
  await page.goto(`${workshop.url}/counter/box`);
  const box = page.getByLabel("Asset tags or serials");
  for (const tag of tags) {
    await box.press("End");
    await box.pressSequentially(tag);
    await box.press("Enter");
  }
  await box.pressSequentially("SK-99999");
  await expect(page.getByText("4 in the box, 1 to look at")).toBeVisible();
  await page.getByRole("button", { name: "Take them in" }).click();
  await expect(page.getByRole("alert")).toContainText("Tick what their users notice");
  await expect(box).toHaveValue(new RegExp(tags[0]));
  await page.getByLabel("No wireless network").check();
  await page.getByRole("button", { name: "Take them in" }).click();
  // The good ones are in the book; the one nobody knows stays on the page, with what was ticked.
  await expect(page.getByText("4 units are taken in: R-")).toBeVisible();
  await expect(box).toHaveValue("SK-99999");
  await expect(page.getByLabel("No wireless network")).toBeChecked();
  expect(workshop.sql(`SELECT count(*) FROM units WHERE state = 'AtCounter' AND tag IN ('${tags.join("','")}')`)).toBe("4");
});

test("a delivery is received by its number, in two parcels, and the wrong box is set apart", async ({ page, workshop }) => {
  const order = (number, quantity) =>
    workshop.sql(
      `INSERT INTO part_orders (id, request_id, supplier_id, number, grade, quantity, arrived, freight, landed, currency, expected, state, at, by_id)
       SELECT gen_random_uuid(), gen_random_uuid(), s.id, '${number}', 'Brand', ${quantity}, 0, 'ground', 90, 'GBP', '2026-12-01', 'Ordered', now(), t.id
       FROM suppliers s, technicians t WHERE s.name = 'Mainland Spares' AND t.user_name = 'odd' RETURNING id`,
    );
  order("TW-2K8E-11830", 3);
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/stores/receive`);
  await page.getByLabel("Number on the part").fill("tw 2k8e 11830");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: /Take in TW-2K8E-11830/ })).toBeVisible();
  await page.getByLabel(/Serials, one a line/).fill("K0001\nK0002\nK0001");
  await page.getByLabel("How many arrived").fill("2");
  await page.getByLabel(/really cost/).fill("ninety");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByRole("alert")).toContainText("is no amount");
  await page.getByLabel(/really cost/).fill("96.30");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByRole("alert")).toContainText("scanned twice");
  await page.getByLabel(/Serials, one a line/).fill("K0001\nK0002");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText("1 still to come")).toBeVisible();
  await expect(page.locator("tr", { hasText: "TW-2K8E-11830" })).toContainText("1 of 3");
  expect(workshop.sql("SELECT count(*), min(cost) FROM items WHERE serial LIKE 'K000%'")).toBe("2|32.10");

  await page.locator("tr", { hasText: "TW-2K8E-11830" }).getByRole("link", { name: "Take in" }).click();
  await page.getByLabel("Number printed on the part").fill("TW-3F0A-50711");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText("in quarantine; write to the supplier")).toBeVisible();
});

test("promised parts are handed out by scan, and one comes back", async ({ page, workshop }) => {
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/stores`);
  await page.locator("aside").getByRole("link", { name: "R-1005" }).click();
  const code = (await page.locator(".act h1 .code").last().textContent()).trim();
  await scanned(page, "SK-00417");
  await expect(page.getByRole("alert")).toContainText("No item carries the label SK-00417");
  await scanned(page, code);
  await expect(page.getByText("Everything promised is on the bench")).toBeVisible();
  // The scan line leads to the item, which lies on the bench and goes back.
  await page.goto(`${workshop.url}/stores`);
  await scan(page, code);
  await expect(page.locator(".room")).toContainText("the bench");
  await page.getByRole("button", { name: "Take it back into the stores" }).click();
  await expect(page.getByText("It was promised to R-1005, which has to choose another one.")).toBeVisible();
  await expect(page.getByText("Proved: replayed from nothing")).toBeVisible();
  await page.getByText("The last movement was wrong").click();
  await page.getByLabel(/What was wrong with no/).fill("it was another one");
  await page.getByRole("button", { name: "Take it back", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("Hand it out again");
});

test("a bin is counted with a scanner, its difference explained and posted", async ({ page, workshop }) => {
  await signIn(page, workshop, "odd");
  const [first, ...rest] = workshop
    .sql("SELECT i.code FROM items i JOIN bins b ON b.id = i.bin_id WHERE b.code = 'B-01' ORDER BY i.code")
    .split("\n");
  await scan(page, "B-01");
  await page.getByRole("button", { name: "Count this bin" }).click();
  for (const code of rest) {
    await scanned(page, code);
    await expect(page.locator("tr", { hasText: code })).toContainText("here ✓");
  }
  await page.getByRole("button", { name: "Post the differences" }).click();
  await expect(page.getByRole("alert")).toContainText(`${first}`);
  await page.getByLabel(new RegExp(`${first} .* is not here`)).fill("lent to the harbour office, nobody wrote it down");
  await page.getByRole("button", { name: "Post the differences" }).click();
  await expect(page.getByText(`Bin B-01 is counted: ${first} is gone`)).toBeVisible();
  await page.goto(`${workshop.url}/stores/items/${first}`);
  await expect(page.getByText("nobody wrote it down")).toBeVisible();
});

test("a donor is stripped into the stores", async ({ page, workshop }) => {
  const donor = workshop.sql("SELECT tag FROM units WHERE state = 'Donor' AND model_code = 'thimble-11' ORDER BY tag DESC LIMIT 1");
  await signIn(page, workshop, "odd");
  await scan(page, donor);
  await page.getByRole("link", { name: "Strip it" }).click();
  await page.getByRole("checkbox", { name: "board", exact: true }).check();
  await page.getByLabel("Number on the board").fill("MB 0000-0000-X");
  await page.getByLabel("Good parts go to bin").fill("C-01");
  await page.getByRole("button", { name: "Into the stores" }).click();
  await expect(page.getByRole("alert")).toContainText("Put the passport right first");
  await expect(page.getByRole("checkbox", { name: "board", exact: true })).toBeChecked();
  await page.getByLabel("Number on the board").fill("");
  await page.getByRole("button", { name: "Into the stores" }).click();
  await expect(page.getByText(`Out of ${donor}: IT-`)).toBeVisible();
  await expect(page.locator("tr", { has: page.getByText("Board", { exact: true }) }).first()).toContainText("nothing is recorded");
});

test("labels lie on the sheet to the millimetre, and another program reads their codes", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await page.goto(`${workshop.url}/fleet?model=plover-12`);
  await page.getByLabel("Tick every unit shown").check();
  await expect(page.locator("#ticked")).toContainText("the");
  await page.getByRole("button", { name: "Print labels" }).click();
  // Sizes as common label sheets have them; see Core's LabelSheet.
  for (const sheet of [
    { id: "24", left: 7.2, top: 12.9, width: 63.5, height: 33.9, pitch: 66 },
    { id: "65", left: 4.75, top: 10.7, width: 38.1, height: 21.2, pitch: 40.6 },
  ]) {
    await page.getByRole("combobox", { name: "Sheet" }).selectOption(sheet.id);
    await page.getByLabel("Labels gone from the first sheet").fill("1");
    await page.getByRole("button", { name: "Lay them out" }).click();
    const code = await page.locator(".label").first().getAttribute("data-code");
    const paper = await onPaper(page);
    expect(paper.width * paper.mm).toBeCloseTo(210, 0);
    expect(paper.height * paper.mm).toBeCloseTo(297, 0);
    // One label is gone from the sheet: the first stands in the second place.
    const label = cut(paper, sheet.left + sheet.pitch, sheet.top, sheet.width, sheet.height);
    const read = jsQR(label.data, label.width, label.height);
    expect(read?.data, `sheet ${sheet.id}`).toBe(code);
    // The code's corner stands where the geometry says: half a millimetre in, and the quiet zone of four modules (ISO/IEC 18004).
    const side = Math.min(sheet.height - 2, sheet.width * 0.45);
    const modules = 21 + 8;
    expect(read.location.topLeftCorner.x * label.mm).toBeCloseTo(0.5 + (4 * side) / modules, 0);
    expect(read.location.topLeftCorner.y * label.mm).toBeCloseTo((sheet.height - side) / 2 + (4 * side) / modules, 0);
    const empty = cut(paper, sheet.left, sheet.top, sheet.width, sheet.height);
    expect(empty.data.every((value) => value === 255)).toBe(true);
  }
});

test("the scanner's stand-in types into another window", async ({ page, workshop }) => {
  await signIn(page, workshop);
  const scanner = await page.context().newPage();
  await scanner.goto(`${workshop.url}/scanner`);
  await page.goto(`${workshop.url}/stores`);
  await scanner.getByLabel("Code").fill("SK-00417");
  await scanner.getByRole("button", { name: "Scan" }).click();
  await expect(page.getByRole("heading", { name: "SK-00417" })).toBeVisible();
});

test("a part number is made known; one slip from a known one is asked about", async ({ page, workshop }) => {
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/stores/new-number`);
  await page.getByLabel("Number as printed").fill("tw 5r0q 22011");
  await page.getByLabel("What it is").fill("battery 54 Wh");
  await page.getByLabel("Kind").selectOption({ label: "battery" });
  await page.getByLabel(/Fits, one a line/).fill("sandpiper-14 batery");
  await page.getByRole("button", { name: "Make it known" }).click();
  await expect(page.getByRole("alert")).toContainText("TW-5R0Q-22011 is known already");
  await page.getByLabel("Number as printed").fill("TW-5R0Q-22012");
  await page.getByRole("button", { name: "Make it known" }).click();
  await expect(page.getByRole("alert")).toContainText("one slip from TW-5R0Q-22011");
  await page.getByLabel(/I have read the label again/).check();
  await page.getByRole("button", { name: "Make it known" }).click();
  await expect(page.getByRole("alert")).toContainText("batery");
  // What was typed is still there; the slot is put right and the number it takes over from is named.
  await expect(page.getByLabel("What it is")).toHaveValue("battery 54 Wh");
  await page.getByLabel(/Fits, one a line/).fill("sandpiper-14 battery");
  await page.getByLabel("Sold in place of").fill("tw 5r0q 22011");
  await expect(page.getByLabel(/I have read the label again/)).toBeChecked();
  await page.getByRole("button", { name: "Make it known" }).click();
  await expect(page.getByRole("heading", { name: "TW-5R0Q-22012" })).toBeVisible();
  await expect(page.getByText("Sold in place of TW-5R0Q-22011")).toBeVisible();
  await expect(page.locator("#main")).toContainText("Nothing of it is in the house");
});

test("a level is kept, what is short is proposed and ordered once", async ({ page, workshop }) => {
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/stores/numbers/${encodeURIComponent("TW-5R0Q-21847")}`);
  await page.getByLabel("Fewer than").fill("9");
  await page.getByLabel(/order up to/).fill("4");
  await page.getByRole("button", { name: "Set", exact: true }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  await page.getByLabel("Fewer than").fill("4");
  await page.getByLabel(/order up to/).fill("6");
  await page.getByRole("button", { name: "Set", exact: true }).click();
  await expect(page.getByText("is ordered up to 6 when fewer than 4")).toBeVisible();
  await page.goto(`${workshop.url}/stores/proposal`);
  const row = page.locator(".walk tr", { hasText: "TW-5R0Q-21847" });
  await expect(row).toContainText("4–6");
  await row.getByRole("button", { name: "Order TW-5R0Q-21847" }).click();
  await expect(page.getByRole("status").filter({ hasText: "ordered" })).toBeVisible();
  await expect(page.locator(".walk tr", { hasText: "TW-5R0Q-21847" })).toHaveCount(0);
  expect(workshop.sql("SELECT count(*) FROM part_orders WHERE number = 'TW-5R0Q-21847' AND repair_id IS NULL AND state = 'Ordered'")).toBe("1");
});

test("what repairs wait for goes along with what the shelf is short of, and nothing that is not ticked", async ({ page, workshop }) => {
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/stores/proposal`);
  // One that has several lines; which supplier's it is, the day of the week decides.
  const lined = await page.locator("form.shipment").evaluateAll((all) => all.findIndex((s) => s.matches(":has(tr + tr)") && /R-\d/.test(s.innerText)));
  const shipment = page.locator("form.shipment").nth(lined);
  const ticks = shipment.getByRole("checkbox");
  const lines = await ticks.count();
  expect(lines).toBeGreaterThan(1);
  for (let i = 0; i < lines; i++) await ticks.nth(i).uncheck();
  await shipment.getByRole("button", { name: "Order what is ticked" }).click();
  await expect(page.getByRole("alert")).toContainText("Nothing was ordered");
  // Nothing is ticked still.
  const left = await ticks.first().inputValue();
  await expect(ticks.first()).not.toBeChecked();
  for (let i = 1; i < lines; i++) await ticks.nth(i).check();
  const before = Number(workshop.sql("SELECT count(*) FROM part_orders"));
  await shipment.getByRole("button", { name: "Order what is ticked" }).click();
  await expect(page.getByRole("status").filter({ hasText: `${lines - 1} line` })).toBeVisible();
  expect(Number(workshop.sql("SELECT count(*) FROM part_orders"))).toBe(before + lines - 1);
  await expect(page.locator(`input[name=lines][value="${left}"]`)).toHaveCount(1);
});
