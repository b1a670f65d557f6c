import jsQR from "jsqr";
import { apiOf, expect, scan, signIn, test } from "./support/test.mjs";
import { cut, onPaper } from "./support/paper.mjs";

const idle = (workshop, model, count) =>
  workshop
    .sql(
      `SELECT tag FROM units u WHERE model_code = '${model}' AND state = 'InUse' AND NOT in_loan_pool
       AND NOT EXISTS (SELECT FROM repairs r WHERE r.unit_id = u.id) ORDER BY tag DESC LIMIT ${count}`,
    )
    .split("\n");

/** What a scanner gives the page's own field: the code and Enter. */
async function scanned(page, code) {
  await page.locator("[data-takes-scans]").fill(code);
  await page.keyboard.press("Enter");
}

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
  await page.getByLabel("No wireless network").check();
  await page.getByRole("button", { name: "Take them in" }).click();
  await expect(page.getByRole("alert")).toContainText("none of the box is taken in yet");
  // What was scanned and ticked is still there.
  await expect(page.getByLabel("No wireless network")).toBeChecked();
  await box.fill(tags.join("\n"));
  await page.getByRole("button", { name: "Take them in" }).click();
  await expect(page.getByText("4 units are taken in: R-")).toBeVisible();
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
  await expect(page.locator("tr", { has: page.getByText("Board", { exact: true }) })).toContainText("not recorded yet");
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

test("the fleet is narrowed as one types, and many are moved at once", async ({ page, workshop }) => {
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/fleet`);
  await page.getByLabel("Find").pressSequentially("lanternfield 11 r");
  await expect(page).toHaveURL(/search=lanternfield/);
  await page.getByLabel("State").selectOption("InUse");
  await expect(page).toHaveURL(/state=InUse/);
  const rows = page.locator("#units tbody tr");
  await expect(rows.first()).toContainText("Lanternfield School");
  // The address is the list: opened again it is the same.
  await page.reload();
  await expect(page.getByLabel("Find")).toHaveValue("lanternfield 11 r");
  const tags = await rows.locator("a").first().textContent();
  await rows.nth(0).getByRole("checkbox").click();
  await rows.nth(2).getByRole("checkbox").click({ modifiers: ["Shift"] });
  await expect(page.locator("#ticked")).toHaveText("the 3 ticked");
  await page.getByLabel("To site").fill("Ebbholm Primary");
  await page.getByRole("button", { name: "Move", exact: true }).click();
  await expect(page.getByText("3 units moved to Ebbholm Primary.")).toBeVisible();
  await page.goto(`${workshop.url}/fleet/${tags.trim()}`);
  await expect(page.getByText("From Lanternfield School to Ebbholm Primary")).toBeVisible();
});

test("a unit speaks for itself over the API, and what differs is decided by a person", async ({ page, workshop, playwright }) => {
  await signIn(page, workshop, "mara");
  const [tag] = idle(workshop, "sandpiper-14", 1);
  const { client } = await apiOf(page, workshop, playwright, "units that speak");
  await page.goto(`${workshop.url}/stand-in/units/${tag}?faults=MemorySwapped`);
  const list = await page.getByLabel("Hardware list").inputValue();
  const heard = await client.post(`/api/v1/units/${tag}/hardware`, { data: list, headers: { "content-type": "application/json" } });
  expect(heard.status()).toBe(200);
  expect((await heard.json()).questions).toHaveLength(1);
  const cut = await client.post(`/api/v1/units/${tag}/hardware`, { data: Buffer.from(list.slice(0, 300)), headers: { "content-type": "application/json" } });
  expect(cut.status()).toBe(422);
  expect((await cut.json()).detail).toContain("not whole");
  const power = await client.post(`/api/v1/units/${tag}/power`, { data: await page.getByRole("textbox", { name: "Battery" }).inputValue(), headers: { "content-type": "text/plain" } });
  expect((await power.json()).said).toContain("kept");

  await page.goto(`${workshop.url}/fleet/${tag}`);
  await expect(page.getByText("The machine says otherwise.")).toBeVisible();
  await page.getByRole("button", { name: "The machine is right: write it into the passport" }).click();
  await expect(page.getByText("has GX-8G-3200 in memory-a now")).toBeVisible();
  await page.getByText("Let the machine speak").click();
  await page.getByLabel("or pasted").fill("POWER_SUPPLY_ENERGY_FULL=-1\nPOWER_SUPPLY_ENERGY_FULL_DESIGN=54000000");
  await page.getByRole("button", { name: "Take it in", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("negative energy");
  await client.dispose();
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
