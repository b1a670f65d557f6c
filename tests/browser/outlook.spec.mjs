import { expect, signIn, test } from "./support/test.mjs";

test("batteries that come due become a campaign and an order", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  await page.goto(`${workshop.url}/outlook?by=1999-01-01&sure=33`);
  // What makes no sense is answered for half a year ahead, in 90 of 100 cases.
  await expect(page.getByLabel("Enough in")).toHaveValue("90");
  await expect(page.getByRole("img", { name: /:/ }).first()).toBeVisible();
  const row = page.locator("table.walk tbody tr").first();
  const due = Number(await row.locator("summary").innerText());
  expect(due).toBeGreaterThan(0);

  // Each stands by its tag, one click from its readings.
  await row.locator("summary").click();
  const tags = await row.locator(".who a").allInnerTexts();
  expect(tags).toHaveLength(due);

  await row.getByRole("button", { name: /Campaign/ }).click();
  await expect(page).toHaveURL(/\/fleet\/campaigns\//);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Batteries,");
  expect(
    workshop.sql(
      `SELECT count(*) FROM campaign_marks m JOIN units u ON u.id = m.unit_id WHERE m.campaign LIKE 'Batteries,%' AND u.tag IN (${tags.map((t) => `'${t}'`).join(",")})`,
    ),
  ).toBe(String(due));

  await page.goto(`${workshop.url}/outlook`);
  const order = page.getByRole("link", { name: /^Order \d+$/ }).first();
  const wanted = (await order.innerText()).match(/\d+/)[0];
  await order.click();
  await expect(page).toHaveURL(/\/stores\/proposal\?number=.*quantity=/);
  await expect(page.getByLabel("How many").first()).toHaveValue(wanted);
});

test("a bad lot is on the watch list, its curve is a click away, and its units are marked", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  await page.goto(`${workshop.url}/outlook/watch`);
  const bad = page.getByRole("row", { name: /KB-24-07/ });
  await expect(bad).toContainText("keyboard-deck");
  const left = workshop.sql(
    "SELECT count(*) FROM items i JOIN units u ON u.id = i.unit_id WHERE i.batch = 'KB-24-07' AND u.state NOT IN ('Donor', 'Retired', 'Lost')",
  );
  await bad.getByRole("link", { name: "keyboard-deck" }).click();
  await expect(page.getByRole("img", { name: /Share that still serves/ })).toBeVisible();
  await expect(page.getByRole("row", { name: /KB-24-07/ })).toBeVisible();

  await page.goBack();
  await bad.getByRole("button", { name: "Mark them" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("KB-24-07");
  expect(workshop.sql("SELECT count(*) FROM campaign_marks WHERE campaign LIKE 'Watch:%'")).toBe(left);

  expect((await page.goto(`${workshop.url}/outlook/wear/thimble-11/nothing`)).status()).toBe(404);
});
