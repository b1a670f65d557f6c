import { expect, signIn, test } from "./support/test.mjs";

/** Waits until keys are heard and no better calendar is on its way: it comes in the place of the one shown. */
const settled = (page) =>
  page.waitForFunction(() => window.htmx && document.readyState === "complete" && !document.querySelector("#calendar[aria-busy]"));

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
  await expect(row.locator(".carriers a.code")).toHaveCount(due);
  const tags = await row.locator(".carriers a").allInnerTexts();

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
  await bad.locator("summary").click();
  const left = workshop.sql(
    "SELECT count(*) FROM items i JOIN units u ON u.id = i.unit_id WHERE i.batch = 'KB-24-07' AND u.state NOT IN ('Donor', 'Retired', 'Lost')",
  );
  await expect(bad.locator(".fill a")).toHaveCount(Number(left));
  await bad.getByRole("link", { name: "keyboard-deck" }).click();
  await expect(page.getByRole("img", { name: /Share that still serves/ })).toBeVisible();
  await expect(page.getByRole("row", { name: /KB-24-07/ })).toBeVisible();

  await page.goBack();
  await bad.getByRole("button", { name: "Mark them" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("KB-24-07");
  expect(workshop.sql("SELECT count(*) FROM campaign_marks WHERE campaign LIKE 'Watch:%'")).toBe(left);

  expect((await page.goto(`${workshop.url}/outlook/wear/thimble-11/nothing`)).status()).toBe(404);
});

test("a donor worth opening becomes a job of the calendar, and is called off again", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  await page.goto(`${workshop.url}/outlook/harvest`);
  const donor = page.locator("table.walk tbody tr").first();
  const tag = await donor.locator("a.code").first().innerText();
  await donor.getByRole("button", { name: `Put on the calendar: ${tag}` }).click();
  await expect(page.getByRole("status").filter({ hasText: `Stripping ${tag}` })).toBeVisible();
  await page.getByRole("link", { name: "On the calendar" }).click();
  const job = page.locator(".hands li").filter({ hasText: tag });
  await expect(job).toContainText("strip:");
  // It has its place as a repair has: pinned by key, and left to the calendar again.
  await settled(page);
  await job.getByRole("link", { name: tag }).focus();
  await page.keyboard.press("p");
  await expect(job).toContainText("pinned");
  await settled(page);
  await job.getByRole("link", { name: tag }).focus();
  await page.keyboard.press("p");
  await expect(page.getByText(`The calendar chooses who does strip ${tag}`)).toBeVisible();
  await job.getByRole("link", { name: tag }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(`Strip ${tag}`);
  expect(await page.getByRole("checkbox", { checked: true }).count()).toBeGreaterThan(0);

  await page.goto(`${workshop.url}/outlook/harvest`);
  await page.getByRole("button", { name: `Call it off: ${tag}` }).click();
  await expect(page.getByText("stays a donor")).toBeVisible();
  await expect(page.getByRole("button", { name: `Put on the calendar: ${tag}` })).toBeVisible();
});

test("a promise at risk is swapped in on the calendar, and what is pinned is freed by key", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  // Half an hour at the bench, tomorrow, for two jobs that are promised for tomorrow.
  workshop.sql("DELETE FROM absences; DELETE FROM bench_hours; UPDATE repairs SET promised_on = NULL");
  workshop.sql("UPDATE repairs SET promised_on = current_date + 1 WHERE number IN (1005, 1006)");
  const tomorrow = new Date(Date.now() + 86_400_000).toLocaleDateString("en-GB", { weekday: "short" });
  await page.goto(`${workshop.url}/outlook/calendar`);
  await expect(page.getByText("Nobody has hours at the bench yet")).toBeVisible();
  await page.getByRole("link", { name: "Say who is there when" }).click();
  const day = page.getByLabel(`B. Fenner, ${tomorrow}`);
  await day.fill("noon");
  await day.press("Enter");
  await expect(page.getByRole("alert")).toContainText("“noon” is no time of a day");
  // What was refused stands there again, put back by the page's script: only then is it typed over.
  await expect(day).toHaveValue("noon");
  await day.fill("12-12:30");
  await day.press("Enter");
  await expect(page.getByText("B. Fenner is at the bench 0.5 hours a week")).toBeVisible();

  await page.goto(workshop.url);
  await expect(page.getByText("1 promise at risk")).toBeVisible();
  await page.getByRole("link", { name: "What would keep them" }).click();
  const risks = page.locator("table.risks").first().locator("tbody tr");
  await expect(risks).toHaveCount(1);
  const late = await risks.locator("a.code").first().innerText();
  const other = late === "R-1005" ? "R-1006" : "R-1005";
  await expect(risks).toContainText(`then at risk: ${other}`);
  await risks.getByRole("button", { name: "B. Fenner first" }).click();
  await expect(page.getByText(`${late} is the first thing B. Fenner does.`)).toBeVisible();
  await expect(risks.locator("a.code").first()).toHaveText(other);

  // By key alone: onto the job, and p frees it.
  await settled(page);
  await page.locator(".hands li", { hasText: late }).getByRole("link", { name: late }).focus();
  await page.keyboard.press("p");
  await expect(page.getByText(`The calendar chooses who does ${late}`)).toBeVisible();
  expect(
    workshop.sql(`SELECT count(*) FROM bench_pins p JOIN repairs r ON r.id = p.repair_id WHERE 'R-' || r.number = '${late}'`),
  ).toBe("0");

  // Away that day, nobody has the time, and it says so.
  await page.goto(`${workshop.url}/outlook/calendar/hours`);
  const bo = page.locator(".hours-of", { hasText: "B. Fenner" });
  const iso = workshop.sql("SELECT current_date + 1");
  await bo.getByLabel("Away from").fill(iso);
  await bo.getByRole("button", { name: "Is away" }).click();
  await page.goto(`${workshop.url}/outlook/calendar`);
  await expect(page.getByText("Nobody has the time: tell the user, or add hours.")).toHaveCount(2);
});

test("what was typed and refused stands there again, and only there", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  await page.goto(`${workshop.url}/outlook/calendar/hours`);
  const person = page.locator(".hours-of").nth(1);
  const monday = person.getByLabel(/, Mon$/);
  const others = await page.getByLabel(/, Mon$/).evaluateAll((all) => all.map((f) => f.value));
  await monday.fill("8 till late");
  await person.getByRole("button", { name: "Keep these hours" }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  await expect(monday).toHaveValue("8 till late");
  await expect(page.locator(".hours-of").nth(0).getByLabel(/, Mon$/)).toHaveValue(others[0]);
  // Somewhere else, or when the page is opened anew, nothing of it is left.
  await page.reload();
  await expect(monday).toHaveValue(others[1]);

  await person.getByLabel("and these parts").fill("flux");
  await person.getByRole("button", { name: "Keep what is left to others" }).click();
  await expect(page.getByRole("alert")).toContainText('No part is called "flux"');
  await expect(person.getByLabel("and these parts")).toHaveValue("flux");
  await person.getByLabel("and these parts").fill("board");
  await person.getByRole("button", { name: "Keep what is left to others" }).click();
  await expect(page.getByRole("status").filter({ hasText: "leaves to others: board" })).toBeVisible();
});
