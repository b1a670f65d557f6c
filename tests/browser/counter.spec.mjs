import { act, apiOf, expect, scan, signIn, test } from "./support/test.mjs";

const idle = (workshop, model) =>
  workshop.sql(
    `SELECT tag FROM units u WHERE model_code = '${model}' AND state = 'InUse'
     AND NOT EXISTS (SELECT FROM repairs r WHERE r.unit_id = u.id) ORDER BY tag LIMIT 1`,
  );

async function takeIn(page, workshop, tag, ...symptoms) {
  await page.goto(`${workshop.url}/counter/take-in/${tag}`);
  for (const symptom of symptoms) await page.getByLabel(symptom).check();
  await page.getByRole("button", { name: "Open the repair" }).click();
  return new URL(page.url()).pathname.split("/").at(-1);
}

/** Answers the act shown, or one found under "Something else". */
async function answer(page, title, name) {
  const shown = page.locator(".act h1");
  if ((await shown.textContent()) !== title) {
    await page.getByText("Something else").click();
    await page.locator(".others summary", { hasText: title }).click();
    await page.locator(".others li", { hasText: title }).getByRole("button", { name }).click();
  } else {
    await page.locator(".act").getByRole("button", { name }).click();
  }
  await expect(page.locator(".rows", { hasText: title })).toBeVisible();
}

test("a dead pointer on the 2-in-1, proved in the firmware screens, to the plan of a new deck", async ({ page, workshop }) => {
  await signIn(page, workshop, "bo");
  const code = await takeIn(page, workshop, idle(workshop, "sandpiper-13-turn"), "The pointer does not move");
  await page.getByRole("link", { name: "Find out what is wrong" }).click();

  // The test that tells hardware from software comes first.
  await expect(act(page)).toHaveText("Does it work in the firmware screens?");
  await page.getByRole("button", { name: "Dead there too" }).click();
  await expect(page.locator(".chances tr").first()).toContainText("Touchpad broken");

  // An answer that contradicts nothing is taken back, and given again.
  await page.getByRole("button", { name: /Take back/ }).click();
  await expect(act(page)).toHaveText("Does it work in the firmware screens?");
  await page.getByRole("button", { name: "Dead there too" }).click();
  await answer(page, "Reseat the ribbon of the touchpad", "It did not help");
  await page.getByText("End it yourself").click();
  await page.getByLabel("Act on").selectOption("touchpad-broken");
  await page.getByRole("button", { name: "Exchange the part" }).click();

  // The touchpad is part of the deck: the deck is what one orders.
  await expect(page.getByRole("heading", { name: "Touchpad broken" })).toBeVisible();
  await expect(page.getByText("What brings a new touchpad to this Sandpiper 13 Turn")).toBeVisible();
  await page.getByRole("button", { name: "Fit a new deck with touchpad" }).click();

  // Which deck is seen by eye; until then nothing is ordered.
  await page.getByRole("link", { name: "Offers from suppliers" }).click();
  await expect(page.getByText("Look at the unit first.")).toBeVisible();
  await expect(page.getByRole("button", { name: /^Order/ })).toHaveCount(0);
  await page.getByRole("link", { name: "What to look at" }).click();
  await page.getByRole("button", { name: "Opening in the edge" }).click();
  await page.getByRole("button", { name: "A reader" }).click();
  await expect(page.locator(".looks legend", { hasText: "in the passport" })).toHaveCount(2);
  await page.getByRole("link", { name: "Offers from suppliers" }).click();
  await expect(page.getByText("the surest").first()).toBeVisible();
  await page.getByRole("button", { name: /^Order TW-.* Mainland Spares, ground and ferry/ }).first().click();
  await expect(page.getByRole("status").filter({ hasText: "ordered as M-" })).toBeVisible();

  // The right number is taken in and promised; the plan stands below.
  const number = workshop.sql("SELECT number FROM part_orders ORDER BY at DESC LIMIT 1");
  await page.locator(".coming").getByLabel("Number on the part").fill(number.toLowerCase());
  await page.getByRole("button", { name: `Take in ${number}` }).click();
  await expect(page.getByText(`promised to ${code}.`)).toBeVisible();
  await expect(page.getByRole("heading", { name: /^The plan/ })).toBeVisible();
  await expect(page.getByRole("button", { name: "To the bench" })).toBeVisible();
});

test("a Chromebook's radio, cured by an update without opening", async ({ page, workshop }) => {
  await signIn(page, workshop, "tove");
  const code = await takeIn(page, workshop, idle(workshop, "thimble-11-r"), "No wireless network");
  await page.getByRole("link", { name: "Find out what is wrong" }).click();
  await answer(page, "Does another unit work at the same place?", "Works");
  await answer(page, "Is the radio switched off?", "Could not tell");
  await answer(page, "Run all updates", "It cured it");
  await expect(act(page)).toHaveText("Cured");
  await page.getByLabel("What it was").selectOption("radio-driver");
  await page.getByRole("button", { name: "Close the repair" }).click();
  await expect(page.getByText("Cured without a part.", { exact: true })).toBeVisible();
  await page.getByRole("link", { name: "What was tried" }).click();
  await expect(page.locator(".rows")).toContainText("Run all updates");
  expect(workshop.sql(`SELECT fault_id || ' ' || "end" FROM repairs WHERE number = ${code.slice(2)}`)).toBe("radio-driver Cured");
});

test("a drive with a second side is refused, and accepted with a waiver", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  await page.goto(`${workshop.url}/repairs/R-1018`);
  const row = page.locator("tr", { hasText: "TW-8S5T-71024" });
  await expect(row).toContainText("about 1 mm of height is missing");
  await expect(row.getByRole("button", { name: /^Take IT-/ })).toHaveCount(0);
  await row.getByLabel("Why all the same").fill("no");
  await row.getByRole("button", { name: "Sign for TW-8S5T-71024" }).click();
  expect(await row.getByLabel("Why all the same").evaluate((input) => input.validity.valid)).toBe(false);
  await row.getByLabel("Why all the same").fill("A terabyte is needed, and none with one side is to be had.");
  await row.getByRole("button", { name: "Sign for TW-8S5T-71024" }).click();
  await expect(page.getByRole("status").filter({ hasText: "M. Tarn signs for" })).toBeVisible();
  await expect(row).toContainText("fits, with conditions");
  await row.getByRole("button", { name: /^Take IT-/ }).first().click();
  await expect(page.getByText("promised to this repair")).toBeVisible();
});

test("what is dangerous stops at once, and a lead releases it", async ({ page, workshop }) => {
  await signIn(page, workshop, "tove");
  const code = await takeIn(page, workshop, idle(workshop, "thimble-11-r"), "The case or the battery is swollen");
  await expect(page.getByRole("alert")).toContainText("Set apart. Not opened further, not charged, not tested.");
  await expect(page.getByRole("alert")).toContainText("local rules");
  await expect(page.getByText("Tell a lead")).toBeVisible();
  const token = await page.locator("input[name=__RequestVerificationToken]").first().inputValue();
  const forced = { why: "I looked at it and it seems fine", __RequestVerificationToken: token };
  expect(await (await page.request.post(`${workshop.url}/repairs/${code}?handler=Release`, { form: forced })).text()).toContain("This is not yours to do");
  await page.goto(workshop.url);
  await expect(page.locator(".halt").filter({ hasText: code })).toContainText("swollen");
  await page.getByRole("button", { name: "Sign out" }).click();
  await signIn(page, workshop, "mara");
  await scan(page, code);
  await page.getByLabel("What was done that makes it safe").fill("Battery taken away by the service.");
  await page.getByRole("button", { name: "It is safe to work on" }).click();
  await expect(page.getByText(`${code} is released.`)).toBeVisible();
  await expect(page.locator("table.notes")).toContainText("Safe to work on");
  // Seen later, while it waits: said on the repair's own page.
  await page.getByText("Something dangerous").click();
  await page.getByRole("button", { name: "Smoke, or it smells of burning" }).click();
  await expect(page.getByRole("status").filter({ hasText: `${code} is set apart` })).toBeVisible();
  await expect(page.getByRole("button", { name: "Withdraw the repair" })).toHaveCount(0);
  await page.getByRole("link", { name: "Retire the unit" }).click();
  await expect(page.getByText("a donor is opened. First a lead says what made it safe")).toBeVisible();
});

test("a picture that is none costs nothing that was typed; a real one is shown", async ({ page, workshop }) => {
  await signIn(page, workshop, "tove");
  const tag = idle(workshop, "thimble-10-k");
  await page.goto(`${workshop.url}/counter/take-in/${tag}`);
  await page.getByLabel("No sound", { exact: true }).check();
  await page.getByLabel("In the user's words").fill("Silent since the trip.");
  const script = { name: "holiday.jpg", mimeType: "image/jpeg", buffer: Buffer.from("<script>alert(1)</script>") };
  await page.getByLabel("Photograph").setInputFiles(script);
  await page.getByRole("button", { name: "Open the repair" }).click();
  await expect(page.getByRole("alert")).toContainText("no picture this program can read");
  await expect(page.getByLabel("In the user's words")).toHaveValue("Silent since the trip.");
  await expect(page.getByLabel("No sound", { exact: true })).toBeChecked();
  await page.getByLabel("Photograph").setInputFiles({ name: "a.png", mimeType: "image/png", buffer: await page.screenshot() });
  await page.getByRole("button", { name: "Open the repair" }).click();
  const photo = page.locator(".photos img");
  await expect(photo).toBeVisible();
  expect(await photo.evaluate((image) => image.decode().then(() => image.naturalWidth))).toBeGreaterThan(100);
});

test("a unit is retired only with its storage erased well enough", async ({ page, workshop }) => {
  await signIn(page, workshop, "bo");
  await page.goto(`${workshop.url}/repairs/R-1014/decide`);
  await expect(page.locator("tr.first")).toContainText(/Take the board from SK-/);
  await expect(page.getByRole("img", { name: /Cost a month/ })).toBeVisible();
  await page.getByRole("button", { name: /^Retire SK-/ }).click();
  await expect(page.getByRole("alert")).toContainText("Say how the drive was erased");
  await page.getByLabel("It held").selectOption("Confidential");
  await page.getByLabel("Erased by").selectOption("Clear");
  await page.getByRole("button", { name: /^Retire SK-/ }).click();
  await expect(page.getByRole("alert")).toContainText("At least Destroy");
  await page.getByLabel("It held").selectOption("Internal");
  await page.getByLabel("Erased by").selectOption("Purge");
  await page.getByRole("button", { name: /^Retire SK-/ }).click();
  await expect(page.getByText("Retired.", { exact: true })).toBeVisible();
  await expect(page.locator(".rows")).toContainText("Purge");
});

test("the API answers what the Counter answers, and says what is wrong", async ({ page, workshop, playwright }) => {
  await signIn(page, workshop, "mara");
  const { client } = await apiOf(page, workshop, playwright, "counter script");
  const post = async (path, data) => {
    const answer = await client.post(`/api/v1${path}`, { data });
    return [answer.status(), await answer.json()];
  };

  const [, first] = await post("/triage/next", { class: "laptop", symptoms: ["pointer-dead"] });
  expect(first.best.id).toBe("firmware-input");
  expect(first.faults.reduce((sum, f) => sum + f.chance, 0)).toBeCloseTo(1);
  const [, stored] = await post("/triage/next", { repair: "R-1010" });
  expect(stored.faults[0].component).toBe("touchpad");
  const [, fit] = await post("/fit", { model: "sandpiper-14", slot: "drive-a", number: "TW-8S5T-71024" });
  expect([fit.verdict, fit.waivable]).toEqual(["does-not-fit", ["double-sided-drive"]]);
  const [, half] = await post("/fit", { unit: "SK-00417", slot: "drive-a", item: { kind: "drive", driveForm: "m2", lengthMm: 80 } });
  expect(half.verdict).toBe("not-known");
  expect(half.reasons.filter((r) => r.weight === "missing").map((r) => r.text)).toContain("Not known of this number: whether chips sit on both sides.");

  const gbp = (amount) => ({ amount, currency: "GBP" });
  const by = (name, base, brokerage, included) => ({ name, base: gbp(base), brokerage: gbp(brokerage), brokerageIncluded: included, sails: ["tuesday", "friday"], transitDays: 1 });
  const offer = (more) => ({ supplier: "Overseas", number: "X-1", grade: "brand", price: gbp(30), weightKg: 0.3, freight: [by("express", 55, 38, true), by("ground", 22, 40, false)], ...more });
  const [, compared] = await post("/sourcing/compare", { offers: [offer()], orderedOn: "2026-11-25" });
  expect(compared.bids.map((b) => [b.freight, b.landed.total.amount])).toEqual([["express", 85], ["ground", 92]]);
  expect(compared.bids[0].landed.arrives).toBe("2026-11-28"); // Wednesday's order sails on Friday
  const [, decided] = await post("/decide", { repair: "R-1015" });
  expect(decided.ways.map((w) => w.option.way)).toContain("retire");

  for (const [path, data, status, words] of [
    ["/triage/next", { class: "laptop", symptoms: ["sings"] }, 404, "no symptom"],
    ["/triage/next", { class: "laptop", symptoms: ["swollen"] }, 409, "Nothing is tested here"],
    ["/triage/next", { class: "laptop", symptoms: ["pointer-dead"], knowledge: [{ format: 1, name: "x", tests: [{}] }] }, 422, "cannot be used"],
    ["/fit", { model: "sandpiper-14", slot: "attic", item: { kind: "drive" } }, 404, "no slot"],
    ["/fit", { model: "sandpiper-14", slot: "drive-a", number: "QQ" }, 404, "not known here"],
    ["/sourcing/compare", { offers: [offer({ price: gbp(-1) })] }, 422, "below nothing"],
    ["/sourcing/compare", { offers: [offer({ price: { amount: 3, currency: "XXX" } })] }, 422, "No rate is known"],
    ["/sourcing/compare", { offers: [offer({ freight: [{ ...by("ghost", 1, 0, false), sails: [] }] })] }, 422, "no sailing"],
    ["/decide", { ways: [{ way: "part", name: "x", parts: 1, minutes: 1, daysOut: 1, chance: 1, months: 1 }] }, 422, "Retiring"],
    ["/decide", { repair: "X" }, 422, "is no repair"],
  ]) {
    const [got, problem] = await post(path, data);
    expect(got, JSON.stringify(data)).toBe(status);
    expect(problem.detail).toContain(words);
  }
  const described = await (await client.get("/openapi/v1.json")).json();
  for (const path of ["/triage/next", "/fit", "/sourcing/compare", "/decide"])
    expect(described.paths[`/api/v1${path}`].post.requestBody.content["application/json"].example).toBeTruthy();
});

test("a number is judged for a unit somebody names", async ({ page, workshop }) => {
  await signIn(page, workshop, "odd");
  await page.goto(`${workshop.url}/stores/numbers/TW-8S5T-71024`);
  await page.getByLabel("Asset tag").fill("sk-00417");
  await page.getByRole("button", { name: "Judge" }).click();
  await expect(page.getByText("SK-00417, drive-a")).toBeVisible();
  await expect(page.locator(".verdict.no").first()).toContainText("1 mm of height");
  await page.getByLabel("Asset tag").fill("SK-99999");
  await page.getByRole("button", { name: "Judge" }).click();
  await expect(page.getByRole("alert")).toContainText("No unit carries the tag SK-99999");
});
