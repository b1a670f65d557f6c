import { act, apiOf, doAct, expect, scan, signIn, step, test, toTheBench } from "./support/test.mjs";

test("an unknown tag offers the nearest ones", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await scan(page, "SK-OO4I7");
  await expect(page.getByRole("heading", { name: /Nothing here is called/ })).toBeVisible();
  await page.getByRole("link", { name: "SK-00417" }).click();
  await expect(page.getByRole("heading", { name: "SK-00417" })).toBeVisible();
});

test("a label's whole code without what parts its fields is said to be that", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await scan(page, "[)>061PTW-5R0Q-22011S1");
  await expect(page.getByText("what parts its fields was lost")).toBeVisible();
});

test("part of a name, a site or a number finds what it is part of", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await scan(page, "tidewell 11 r");
  await expect(page.getByRole("heading", { name: /Found for/ })).toBeVisible();
  await expect(page.locator(".found")).toContainText("Tidewell High");
  await scan(page, "battery worn");
  await page.locator(".found a.code", { hasText: "R-" }).first().click();
  await expect(page).toHaveURL(/repairs\/R-\d+/);
});

test("a page left behind is told so and loses nothing", async ({ page, workshop, context }) => {
  await signIn(page, workshop);
  await toTheBench(page, workshop, "fan noisy");
  const behind = await context.newPage();
  await behind.route("**/news", (route) => route.abort());
  await behind.goto(page.url());
  await doAct(page);
  await behind.locator("#done").click();
  await expect(behind.getByRole("alert")).toContainText("had not seen the last act");
  expect(await step(behind)).toBe("2");
  await doAct(behind);
  expect(await step(behind)).toBe("3");
});

test("an interrupted network is retried and nothing is doubled", async ({ page, workshop, context }) => {
  await signIn(page, workshop);
  await toTheBench(page, workshop, "picture broken");
  await context.setOffline(true);
  await page.locator("#done").click();
  await expect(page.getByRole("alert")).toContainText("Not saved yet");
  expect(await step(page)).toBe("1");
  await context.setOffline(false);
  await expect(page.locator("#bench")).toHaveAttribute("data-step", "2", { timeout: 15_000 });
  await expect(page.getByText("Not saved yet")).toHaveCount(0);
  await page.waitForTimeout(2500);
  expect(await step(page)).toBe("2");
});

test("a reader may look and not touch; a wrong password locks", async ({ page, workshop }) => {
  await signIn(page, workshop, "desk");
  await page.goto(`${workshop.url}/repairs/R-1007`);
  await page.getByRole("button", { name: /^Take IT-/ }).first().click();
  await expect(page.getByRole("heading", { name: "This is not yours to do" })).toBeVisible();
  expect(workshop.sql("SELECT count(*) FROM reservations r JOIN repairs p ON p.id = r.repair_id WHERE p.number = 1007")).toBe("0");
  await page.getByRole("button", { name: "Sign out" }).click();
  // A wrong password, a name nobody has, and too many tries: one sentence, so that none is told from another.
  const said = new Set();
  for (const name of ["nobody-here", ...Array(7).fill("bo")]) {
    await page.getByLabel("Name").fill(name);
    await page.getByLabel("Password").fill("guess");
    const answer = page.waitForResponse((r) => r.request().method() === "POST");
    await page.getByRole("button", { name: "Sign in" }).click();
    await answer;
    said.add(await page.getByRole("alert").textContent());
  }
  expect(said.size).toBe(1);
  await page.getByLabel("Name").fill("bo");
  await page.getByLabel("Password").fill("harbour-workshop");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("alert")).toContainText("tried too often from here");
});

test("somebody new is invited, chooses a password and is in; the invitation works once", async ({ page, workshop, browser }) => {
  await signIn(page, workshop, "mara");
  await page.goto(`${workshop.url}/house/people`);
  await page.getByLabel("Name").fill("S. <Reed>");
  await page.getByLabel("Signs in as").fill("sol");
  await page.getByRole("button", { name: "Let in", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("A person's name has 2 to 60 characters");
  await page.getByLabel("Name").fill("S. Reed");
  await page.getByLabel("Signs in as").fill("sol");
  await page.getByRole("button", { name: "Let in", exact: true }).click();
  const link = await page.locator("[data-invitation]").getAttribute("href");

  const other = await browser.newContext();
  const theirs = await other.newPage();
  await theirs.goto(`${workshop.url}/sign-in`);
  await theirs.getByLabel("Name").fill("sol");
  await theirs.getByLabel("Password").fill("anything at all here");
  await theirs.getByRole("button", { name: "Sign in" }).click();
  await expect(theirs.getByRole("alert")).toContainText("do not belong together");
  await theirs.goto(link);
  const choose = async (wanted, again = wanted) => {
    await theirs.getByLabel("Password").fill(wanted);
    await theirs.getByLabel("The same again").fill(again);
    await theirs.getByRole("button", { name: "Choose it" }).click();
  };
  await choose("ferry lamp onion drum", "ferry lamp");
  await expect(theirs.getByRole("alert")).toContainText("not typed alike");
  await choose("password1234");
  await expect(theirs.getByRole("alert")).toContainText("easily guessed");
  await choose("ferry lamp onion drum");
  await expect(theirs.getByRole("heading", { name: "Counter" })).toBeVisible();
  await theirs.goto(link);
  await expect(theirs.getByRole("heading", { name: "works no more" })).toBeVisible();

  await page.goto(`${workshop.url}/house/people`);
  await expect(page.getByRole("row", { name: /S. Reed/ })).not.toContainText("not taken up");
  await other.close();
});

test("a character that no text has is refused at the edge, and nobody else feels it", async ({ page, workshop, request }) => {
  await signIn(page, workshop);
  const form = await request.get(`${workshop.url}/sign-in`);
  const token = /name="__RequestVerificationToken" type="hidden" value="([^"]+)"/.exec(await form.text())[1];
  const attack = (i) =>
    i % 2 === 0
      ? request.post(`${workshop.url}/sign-in`, { multipart: { __RequestVerificationToken: token, name: `a\0${i}`, password: "b" } })
      : page.request.get(`${workshop.url}/fleet?search=a%00${i}`);
  const refused = await Promise.all(Array.from({ length: 400 }, (_, i) => attack(i)));
  expect(new Set(refused.map((r) => r.status()))).toEqual(new Set([422]));
  expect(await refused[0].text()).toContain("a character that no text has");
  const good = await Promise.all(Array.from({ length: 200 }, (_, i) => page.request.get(`${workshop.url}/fleet?search=SK-00${i}`)));
  expect(new Set(good.map((r) => r.status()))).toEqual(new Set([200]));
});

test("the API says what is wrong in its own language, and knows no cookies", async ({ page, workshop, playwright }) => {
  await signIn(page, workshop, "mara");
  const { client } = await apiOf(page, workshop, playwright, "strict");
  const at = (path) => `${workshop.url}/api/v1${path}`;
  for (const [answer, status] of [
    [await page.request.get(at("/nothing-here")), 401],
    [await client.get("/api/v1/nothing-here"), 404],
    [await client.get("/api/v1/fit"), 405],
    [await client.post("/api/v1/fit", { data: "model=x", headers: { "content-type": "application/x-www-form-urlencoded" } }), 415],
    [await client.post("/api/v1/fit", { data: { model: "a\0b", slot: "fan", number: "x" } }), 400],
    [await client.get("/api/v1/units/SK-00417?name=a%00b"), 422],
  ]) {
    expect(answer.status(), answer.url()).toBe(status);
    expect(answer.headers()["content-type"], answer.url()).toContain("application/problem+json");
    expect(answer.headers().server).toBeUndefined();
  }
  await client.dispose();
});

test("a form from elsewhere is refused, headers are strict", async ({ page, workshop, request }) => {
  const page1 = await request.get(`${workshop.url}/sign-in`);
  expect(page1.headers()["content-security-policy"]).toContain("script-src 'self'");
  expect(page1.headers()["content-security-policy"]).not.toContain("unsafe");
  expect(page1.headers()["x-content-type-options"]).toBe("nosniff");
  await signIn(page, workshop);
  const forged = await page.request.post(`${workshop.url}/repairs/R-1005?handler=Withdraw`, { form: {} });
  expect(forged.status()).toBe(400);
  expect(workshop.sql("SELECT state FROM repairs WHERE number = 1005")).toBe("Open");
});
