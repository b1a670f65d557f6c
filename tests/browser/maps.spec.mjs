import { apiOf, expect, signIn, test } from "./support/test.mjs";

const minutes = async (page) => Number((await page.locator("#answer .big").textContent()).split(" ")[0]);

test("what does it take: goals, rules and variants change the plan as they are ticked", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await page.getByRole("link", { name: "Maps" }).click();
  await page.getByRole("link", { name: /Cormorant 15/ }).click();
  await expect(page.getByText("Tick something to replace")).toBeVisible();
  await page.getByLabel("large battery", { exact: true }).first().check();
  await expect(page.locator("#answer .big")).toBeVisible();
  const alone = await minutes(page);
  await expect(page.locator("#answer")).toContainText("Battery cable");

  await page.getByLabel("left fan", { exact: true }).first().check();
  await expect.poll(() => minutes(page)).toBeGreaterThan(alone);

  // A goal the unit does not have says so; the other variant has it.
  await page.getByLabel("2.5-inch drive", { exact: true }).first().check();
  await expect(page.getByRole("alert")).toContainText("This unit has no 2.5-inch drive fitted");
  await page.getByText("The unit has").click();
  await page.getByLabel("small battery and 2.5-inch bay").check();
  await expect(page.getByRole("alert")).toContainText("This unit has no large battery fitted");
  await page.getByLabel("large battery", { exact: true }).first().uncheck();
  await expect(page.locator("#answer .big")).toBeVisible();

  // The address holds the whole question.
  const before = await page.locator(".plan li").count();
  await page.reload();
  await expect(page.locator(".plan li")).toHaveCount(before);
});

test("a house rule tried in Maps, then decided in House, changes the plan", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  await page.goto(`${workshop.url}/maps/sandpiper-14?goal=replace:board`);
  await expect(page.locator(".plan")).toContainText("Set aside the radio card, leads on");
  await page.getByText("House rules, to try").click();
  await page.getByLabel("A radio card is in the way").selectOption({ label: "unsnap always" });
  await expect(page.locator(".plan")).toContainText("Open the main antenna");
  await expect(page.locator(".plan")).not.toContainText("Set aside the radio card");

  await page.goto(`${workshop.url}/house`);
  const rule = page.locator("form", { hasText: "Power on before the cover goes on" });
  await rule.locator("input[value=after-cover]").check();
  await rule.getByRole("button", { name: "Decide" }).click();
  await expect(page.getByText("From now on: after.")).toBeVisible();
  await page.goto(`${workshop.url}/maps/sandpiper-14?goal=replace:battery`);
  const titles = await page.locator(".plan summary").allTextContents();
  expect(titles.findIndex((t) => t.startsWith("Power on"))).toBeGreaterThan(
    titles.findIndex((t) => t.startsWith("Fasten the seven base cover")),
  );

  await page.getByRole("button", { name: "Sign out" }).click();
  await signIn(page, workshop, "aled");
  await page.goto(`${workshop.url}/house`);
  await expect(page.getByRole("button", { name: "Decide" })).toHaveCount(0);
});

test("the arrow keys step the drawing through the plan; a soldered radio names the board", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await page.goto(`${workshop.url}/maps/plover-12?goal=replace:battery&failed=radio`);
  await expect(page.locator(".stepper b")).toContainText("1 · Switch the battery off");
  await page.keyboard.press("ArrowRight");
  await expect(page.locator(".stepper b")).toContainText("2 · ");
  await page.keyboard.press("ArrowLeft");
  await expect(page.locator(".stepper b")).toContainText("1 · Switch the battery off");
  await expect(page.locator("tr", { hasText: "Board" }).first()).toContainText("heatsink");
  await page.getByLabel("screws", { exact: true }).uncheck();
  await expect(page.locator(".machine .screw").first()).toBeHidden();

  await page.goto(`${workshop.url}/maps/plover-12?goal=lift-out:radio`);
  await expect(page.getByRole("alert")).toContainText("it is part of the board");
  await page.goto(`${workshop.url}/maps/plover-12?goal=open-sesame`);
  await expect(page.getByRole("alert")).toContainText("is no goal");
});

test("the screw mat is as large on paper as it says", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await page.goto(`${workshop.url}/maps/sandpiper-14/mat?goal=replace:board`);
  const pdf = await page.pdf({ preferCSSPageSize: true, printBackground: true });
  // ISO 216 A4 is 210 × 297 mm; a PDF counts in 1/72 inch of 25.4 mm.
  const [, width, height] = /MediaBox\s*\[\s*0 0 ([\d.]+) ([\d.]+)/.exec(pdf.toString("latin1")).map(Number);
  expect((width / 72) * 25.4).toBeCloseTo(210, 0);
  expect((height / 72) * 25.4).toBeCloseTo(297, 0);
  await page.emulateMedia({ media: "print" });
  // A CSS pixel is 1/96 inch on paper (CSS Values 4, section 6.2).
  const mm = (locator, side) =>
    locator.evaluate((el, s) => (el.getBBox()[s] * Math.abs(el.getScreenCTM().a) * 25.4) / 96, side);
  expect(await mm(page.locator(".check"), "width")).toBeCloseTo(100, 1);
  const field = page.locator(".field", { hasText: "Upper frame" });
  await expect(field.locator(".life")).toHaveCount(5);
  expect(await mm(field.locator(".life > rect").first(), "height")).toBeCloseTo(4, 1);
});

test("the API plans, checks and judges for whoever holds a token", async ({ page, workshop, playwright }) => {
  const stranger = await (await playwright.request.newContext({ baseURL: workshop.url })).get("/api/v1/models");
  expect(stranger.status()).toBe(401);
  expect(stranger.headers()["content-type"]).toContain("application/problem+json");

  await signIn(page, workshop);
  const { token, client } = await apiOf(page, workshop, playwright, "bench script");
  await page.reload();
  await expect(page.locator("#token")).toHaveCount(0);
  expect(workshop.sql(`SELECT count(*) FROM api_tokens WHERE encode(hash, 'escape') LIKE '%${token}%'`)).toBe("0");

  const models = await (await client.get("/api/v1/models")).json();
  expect(models.map((m) => m.code)).toContain("thimble-11-r");
  const map = await (await client.get("/api/v1/models/thimble-11-r/map")).json();
  const stored = await (await client.post("/api/v1/plans", { data: { model: "thimble-11-r", goals: ["replace:battery"] } })).json();
  const inline = await (await client.post("/api/v1/plans", { data: { map, goals: ["replace:battery"] } })).json();
  expect(inline.steps.map((s) => s.act)).toEqual(stored.steps.map((s) => s.act));
  const acts = stored.steps.map((s) => s.act);
  expect(await (await client.post("/api/v1/plans/validate", { data: { map, acts } })).json()).toEqual({ valid: true, violation: null });
  const hasty = await (await client.post("/api/v1/plans/validate", { data: { map, acts: acts.filter((a) => !a.startsWith("isolate")) } })).json();
  expect(hasty.violation.reason).toContain("Isolate first");

  // From the middle on, and a record of what was done.
  const middle = { model: "thimble-11-r", goals: ["replace:battery"], done: acts.slice(0, 9) };
  expect((await (await client.post("/api/v1/plans/continue", { data: middle })).json()).acts).toEqual(acts.slice(9));
  const skipped = await client.post("/api/v1/plans/continue", { data: { ...middle, done: [acts[0], acts[8]] } });
  expect(skipped.status()).toBe(409);
  expect((await skipped.json()).detail).toContain("Act 2");
  const record = await (await client.get("/api/v1/repairs/R-1002/record")).json();
  expect(record.counts).toEqual([expect.objectContaining({ expected: 7, count: 6, why: "missing before" })]);
  expect(record.stopGaps).toHaveLength(1);
  expect(record.open).toEqual([]);
  expect(record.lines.length).toBeGreaterThan(50);
  expect((await client.get("/api/v1/repairs/R-9999/record")).status()).toBe(404);

  map.fasteners[0].count = 6;
  map.joints[0].under = ["lid"];
  const checked = await (await client.post("/api/v1/service-maps/check", { data: map })).json();
  expect(checked.usable).toBe(false);
  expect(checked.findings.map((f) => f.path)).toEqual(["$.joints[0].under[0]", "$.fasteners[0].count"]);
  const noise = await client.post("/api/v1/service-maps/check", { data: "x".repeat(5_000_000), headers: { "Content-Type": "application/json" } });
  expect((await noise.json()).findings[0].reason).toContain("larger than 2 MB");
  const flood = await client.post("/api/v1/service-maps/check", { data: "x".repeat(20_000_000), headers: { "Content-Type": "application/json" } });
  expect(flood.status()).toBe(413);

  for (const [data, status, words] of [
    [{ model: "wren", goals: ["replace:board"] }, 404, "no service map"],
    [{ model: "plover-12", goals: ["replace:radio"] }, 404, "part of the board"],
    [{ model: "plover-12", goals: [] }, 422, "at least one goal"],
    [{ model: "plover-12", map, goals: ["replace:board"] }, 422, "either"],
    [{ model: "plover-12", goals: ["replace:board"], houseRules: { "antenna-leads": "chew" } }, 404, "no school"],
    [{ map: { format: 9 }, goals: ["replace:board"] }, 422, "cannot be used"],
  ]) {
    const refused = await client.post("/api/v1/plans", { data });
    expect(refused.status(), JSON.stringify(data)).toBe(status);
    expect((await refused.json()).detail).toContain(words);
  }
  for (const broken of ["{", '{"model": 7}', '{"colour": "red"}']) {
    const refused = await client.post("/api/v1/plans", { data: broken, headers: { "Content-Type": "application/json" } });
    expect(refused.status()).toBe(400);
    expect(refused.headers()["content-type"]).toContain("application/problem+json");
  }

  const described = await (await client.get("/openapi/v1.json")).json();
  expect(described.paths["/api/v1/plans"].post.requestBody.content["application/json"].example.goals).toEqual(["replace:board"]);
  expect((await (await client.get("/service-map.schema.json")).json()).title).toBe("Service map");

  await page.getByRole("button", { name: "Revoke bench script" }).click();
  await expect(page.getByText("opens nothing any more")).toBeVisible();
  expect((await client.get("/api/v1/models")).status()).toBe(401);
});
