import { apiOf, expect, faultsOf, idle, scan, signIn, test, workUntil } from "./support/test.mjs";

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
  await page.goto(`${workshop.demoUrl}/units/${tag}?faults=MemorySwapped`);
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
  await expect(page.getByText("says what cannot be")).toBeVisible();
  await expect(page.getByText("It says that it takes -0.000001 Wh when full.")).toBeVisible();
  await client.dispose();
});

test("a delivery of new machines is entered, and what is wrong with it is named by its line", async ({ page, workshop }) => {
  const known = workshop.sql("SELECT serial FROM units WHERE tag = 'SK-00417'");
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/fleet`);
  await page.getByRole("link", { name: "Enter new units" }).click();
  const lines = page.getByLabel(/Tags and serials/);
  await page.getByLabel("Model", { exact: true }).selectOption("thimble-11");
  await page.getByLabel("For the site").fill("Ebbholm Primary");
  await page.getByLabel("Bought on").fill("2026-11-02");
  for (const [typed, why] of [
    ["SK-70001\nNX700001\nSK-70002", "serial"],
    ["SK-70001\nNX700001\nSK-70002\nNX700001", "Line 2: NX700001 stands in this list twice"],
    ["SK-70001\nSK-70001", "tag and serial at once"],
    [`SK-70001\n${known}`, "it is SK-00417"],
    ["SK-00417\nNX700001", "The tag SK-00417 is used already"],
  ]) {
    await lines.fill(typed);
    await page.getByRole("button", { name: "Enter them" }).click();
    await expect(page.getByRole("alert")).toContainText(why);
    await expect(lines).toHaveValue(typed);
  }

  expect(workshop.sql("SELECT count(*) FROM units WHERE tag LIKE 'SK-7000%'")).toBe("0");
  await lines.fill("SK-70001\nNX700001\nSK-70002\nNX700002");
  await page.getByRole("button", { name: "Enter them" }).click();
  await expect(page.getByText(/2 .*(are|units).*/).first()).toBeVisible();
  await scan(page, "NX700002");
  await expect(page.getByRole("heading", { name: "SK-70002" })).toBeVisible();
  await expect(page.locator(".room")).toContainText("Ebbholm Primary");
});

test("a loan unit goes out, is seen to be out, and comes back", async ({ page, workshop }) => {
  const tag = workshop.sql("SELECT tag FROM units WHERE in_loan_pool AND state = 'InUse' ORDER BY tag LIMIT 1");
  await signIn(page, workshop, "tove");
  await page.goto(`${workshop.url}/fleet/${tag}`);
  await page.getByLabel("Lend it to").fill("Reading group, Merrow");
  await page.getByLabel("While repair").fill("R-999999");
  await page.getByRole("button", { name: "Lend it out" }).click();
  await expect(page.getByRole("alert")).toContainText("There is no repair R-999999");
  // What was right stands there still.
  await expect(page.getByLabel("Lend it to")).toHaveValue("Reading group, Merrow");
  await page.getByLabel("While repair").fill("");
  await page.getByRole("button", { name: "Lend it out" }).click();
  await expect(page.getByText(`${tag} is lent to Reading group, Merrow.`)).toBeVisible();
  await page.goto(`${workshop.url}/fleet?state=Loaned`);
  await expect(page.locator("#units tr", { hasText: tag })).toContainText("on loan");
  // The list is walked without a mouse.
  await page.locator("#units tbody a").first().focus();
  await page.keyboard.press("ArrowDown");
  await expect(page.locator("#units tbody tr").nth(1).locator("a").first()).toBeFocused();
  await page.goto(`${workshop.url}/fleet/${tag}`);
  await page.getByRole("button", { name: "It is back" }).click();
  await expect(page.getByText(`${tag} is back and ready to go out again.`)).toBeVisible();
  await expect(page.getByText("Lent to Reading group, Merrow").first()).toBeVisible();
});

test("a passport is put right; a serial the book has elsewhere is for a person to look at", async ({ page, workshop }) => {
  const [tag] = idle(workshop, "sandpiper-14", 1);
  const [code, serial] = workshop
    .sql("SELECT i.code, i.serial FROM items i JOIN bins b ON b.id = i.bin_id WHERE b.code = 'A-01' AND i.serial IS NOT NULL ORDER BY i.code LIMIT 1")
    .split("|");
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/fleet/${tag}`);
  const open = page.locator("details", { has: page.getByText("Put the passport right") });
  const write = async (fields) => {
    await open.locator("select[name=slot]").selectOption("battery");
    for (const [label, text] of Object.entries(fields)) await open.getByLabel(label).fill(text);
    await open.getByRole("button", { name: "Write it" }).click();
  };
  await page.getByText("Put the passport right").click();
  await write({ "Number on the part": "TW-5R0Q-22011", Serial: serial, "How that is known": "read off the label" });
  await expect(page.getByRole("alert")).toContainText(`The serial ${serial} is that of ${code}`);
  // What was refused is open again where it was typed.
  await expect(open).toHaveAttribute("open", "");
  await write({ "Number on the part": "TW-5R0Q-22011", Serial: "Z7700001", "How that is known": "read off the label" });
  await expect(page.getByText("the passport put right").first()).toBeVisible();
  await expect(page.locator("tr", { hasText: "Battery" }).first()).toContainText("TW-5R0Q-22011");
  expect(workshop.sql(`SELECT i.serial FROM items i JOIN units u ON u.id = i.unit_id WHERE u.tag = '${tag}' AND i.slot = 'battery'`)).toBe("Z7700001");
});

test("a donor serves again only whole, and leaves the house only erased", async ({ page, workshop }) => {
  const donor = workshop.sql("SELECT tag FROM units WHERE state = 'Donor' AND model_code = 'thimble-10-k' ORDER BY tag LIMIT 1");
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/fleet/${donor}/strip`);
  await page.getByRole("checkbox", { name: "fan", exact: true }).check();
  await page.getByLabel("Good parts go to bin").fill("C-01");
  await page.getByRole("button", { name: "Into the stores" }).click();
  await page.getByRole("link", { name: "Strip it" }).click();
  await page.getByRole("button", { name: "back in use" }).click();
  await expect(page.getByRole("alert")).toContainText("lacks what was taken out of it: fan");
  await page.getByRole("button", { name: `Retire ${donor}` }).click();
  await expect(page.getByRole("alert")).toContainText("was erased and what it held");
  await page.getByLabel("Erased by").selectOption("Destroy");
  await page.getByRole("button", { name: `Retire ${donor}` }).click();
  await expect(page.getByText(`${donor} is retired.`)).toBeVisible();
  await expect(page.getByRole("link", { name: "Take in for repair" })).toHaveCount(0);
});

test("a campaign over many units: marked, said what is done, taken in as a box, cleaned, handed over, ended", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  const tags = idle(workshop, "cormorant-15", 3);
  await page.goto(`${workshop.url}/fleet?model=cormorant-15`);
  for (const tag of tags) await page.getByRole("checkbox", { name: tag, exact: true }).check();
  await page.locator(".bulk-bar").getByLabel("Campaign").fill("Dust before summer");
  await page.getByRole("button", { name: "Mark", exact: true }).click();
  await expect(page.getByText("3 units marked for “Dust before summer”")).toBeVisible();
  await page.getByRole("link", { name: "Campaigns" }).click();
  await page.getByRole("link", { name: "Dust before summer" }).click();

  // Before it is said what is done, nothing is taken in for it.
  await page.getByRole("checkbox", { name: tags[0] }).check();
  await page.getByRole("button", { name: "Take those ticked in" }).click();
  await expect(page.getByRole("alert")).toContainText("Say first what is done");
  await page.getByLabel("Cleaning").check();
  await page.getByRole("button", { name: "Keep it so" }).click();
  await expect(page.getByText("hours at the bench")).toBeVisible();

  // In waves: one unit at a time of each site, so that no two of one site are away at once.
  await page.getByRole("link", { name: "In waves" }).click();
  for (const spare of await page.getByLabel(/can spare at a time$/).all()) await spare.fill("1");
  await page.getByRole("button", { name: "Plan it so" }).click();
  await expect(page.locator(".wave-chart rect.bench")).toHaveCount(3);
  await expect(page.getByRole("button", { name: /^Take in 1 unit of/ })).toHaveCount(await page.getByLabel(/can spare at a time$/).count());
  expect(await faultsOf(page)).toEqual([]);
  await page.getByRole("link", { name: "The campaign" }).click();

  for (const tag of tags.slice(0, 2)) await page.getByRole("checkbox", { name: tag }).check();
  await page.getByRole("button", { name: "Take those ticked in" }).click();
  await expect(page.getByText("2 units are taken in")).toBeVisible();
  await expect(page.getByText("0 of 3, 2 in repair").first()).toBeVisible();

  // One is cleaned at the bench by its computed plan; it is done in the campaign, and handed over.
  await page.getByRole("row", { name: new RegExp(tags[0]) }).getByRole("link", { name: /^R-/ }).click();
  await page.getByRole("button", { name: "To the bench" }).click();
  await workUntil(page, /clean/);
  await workUntil(page);
  await page.locator("#done").click();
  await expect(page.getByText("is closed.")).toBeVisible();
  await page.getByRole("button", { name: "has been told" }).click();
  await page.getByLabel("Fetched by").fill("J. Firth");
  await page.getByRole("button", { name: "It is fetched" }).click();
  await expect(page.getByText("was fetched by J. Firth")).toBeVisible();
  // What was done at the bench is not taken up again; it would come back as a new repair that names it.
  await expect(page.getByText("It had not ended")).toHaveCount(0);
  await page.getByRole("link", { name: "It has come back: take it in again" }).click();
  await expect(page.getByText("has come back. The new repair names it.")).toBeVisible();

  // The other is withdrawn by mistake and taken up again.
  await page.goto(`${workshop.url}/fleet/${tags[1]}`);
  await page.getByRole("link", { name: /^To repair R-/ }).click();
  await page.getByRole("button", { name: "Withdraw the repair" }).click();
  await page.getByText("It had not ended").click();
  await page.getByLabel("Why it is taken up again").fill("it was the wrong one");
  await page.getByRole("button", { name: "Take it up again" }).click();
  await expect(page.getByRole("button", { name: "To the bench" })).toBeVisible();

  await page.goto(`${workshop.url}/fleet/campaigns/Dust%20before%20summer`);
  await expect(page.getByText("1 of 3, 1 in repair").first()).toBeVisible();
  await page.getByLabel(/^Why it ends with/).fill("the school keeps the rest");
  await page.getByRole("button", { name: "End the campaign" }).click();
  await expect(page.getByText("the school keeps the rest")).toBeVisible();
});
