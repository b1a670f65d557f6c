import AxeBuilder from "@axe-core/playwright";
import { test as base, expect } from "@playwright/test";
import { openWorkshop } from "./workshop.mjs";

const password = "harbour-workshop";

/**
 * One workshop serves all tests of a worker; each test takes a unit and a part of its own. A test fails if a page asks
 * outside for anything or breaks the content security policy.
 */
export const test = base.extend({
  workshop: [
    async ({}, use) => {
      const workshop = await openWorkshop();
      await use(workshop);
      workshop.close();
    },
    { scope: "worker" },
  ],
  page: async ({ page, workshop }, use) => {
    const faults = [];
    page.on("pageerror", (error) => faults.push(error.message));
    page.on("console", (message) => {
      if (/Content Security Policy/.test(message.text())) faults.push(message.text());
    });
    page.on("request", (request) => {
      if (![workshop.url, workshop.demoUrl].some((ours) => request.url().startsWith(ours))) faults.push(`asked outside: ${request.url()}`);
    });
    await use(page);
    expect(faults).toEqual([]);
  },
});

export async function signIn(page, workshop, name = "aled") {
  await page.goto(`${workshop.url}/sign-in`);
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Counter" })).toBeVisible();
}

export async function scan(page, code) {
  await page.getByLabel("Scan line").fill(code);
  await page.keyboard.press("Enter");
}

/** A laptop that is in no repair and never was. */
export const idleUnit = (workshop) =>
  workshop.sql(
    `SELECT tag FROM units u WHERE model_code = 'sandpiper-14' AND tag <> 'SK-00417' AND state = 'InUse'
     AND NOT EXISTS (SELECT FROM repairs r WHERE r.unit_id = u.id) ORDER BY tag LIMIT 1`,
  );

/** Tags of units of a model in use that were never in a repair. */
export const idle = (workshop, model, count) =>
  workshop
    .sql(
      `SELECT tag FROM units u WHERE model_code = '${model}' AND state = 'InUse' AND NOT in_loan_pool
       AND NOT EXISTS (SELECT FROM repairs r WHERE r.unit_id = u.id) ORDER BY tag DESC LIMIT ${count}`,
    )
    .split("\n");

/** What a scanner gives the page's own field: the code and Enter. */
export async function scanned(page, code) {
  await page.locator("[data-takes-scans]").fill(code);
  await page.keyboard.press("Enter");
}

/** Opens a repair on an idle laptop and takes a part like the one that is in it; ends at the bench. */
export async function toTheBench(page, workshop, fault) {
  await page.goto(`${workshop.url}/counter/take-in/${idleUnit(workshop)}`);
  await page.getByText("The part is known already").click();
  await page.getByLabel(fault, { exact: true }).check();
  await page.getByRole("button", { name: "Open the repair" }).click();
  await page.waitForURL(/repairs\/R-/);
  // Whatever other tests have taken from the shelf.
  const number = page.url().match(/R-(\d+)/)[1];
  workshop.sql(
    `INSERT INTO items (id, code, number_id, bin_id, bin_kind)
     SELECT gen_random_uuid(), 'IT-9${number}', i.number_id, b.id, b.kind
     FROM repairs r JOIN repair_lines l ON l.repair_id = r.id JOIN items i ON i.unit_id = r.unit_id AND i.slot = l.slot, bins b
     WHERE r.number = ${number} AND b.code = 'A-01' LIMIT 1`,
  );
  await page.reload();
  await page.getByRole("button", { name: /^Take IT-/ }).first().click();
  await page.getByRole("button", { name: "To the bench" }).click();
  await expect(act(page)).toBeVisible();
}

/** WCAG 2.2, levels A and AA, as axe names their rules. */
export const wcag = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

/**
 * What axe finds wrong on a page, by all its rules or those chosen. No page has frames whose results would be put together in
 * a page of their own, which takes as long again.
 */
export async function faultsOf(page, choose = (axe) => axe) {
  expect(page.frames()).toHaveLength(1);
  const axe = new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ["violations"] });
  const { violations } = await choose(axe).analyze();
  return violations.map((v) => `${v.id} ${v.nodes.map((n) => n.target).join(" ")}`);
}

export const act = (page) => page.locator(".act h1");

/** The number of the act shown, or null when all are done. */
export const step = async (page) => (await page.locator("#bench").getAttribute("data-step")) || null;

/** What the page expects to be read at this act. */
export const expectedNumber = async (page) => (await page.locator("#expected b").textContent()).trim();

/** Does the current act with the mouse and waits for the next one. */
export async function doAct(page) {
  const before = await step(page);
  if (await page.locator("#read").count()) await page.locator("#read").check();
  if (await page.locator("#number").count()) await page.locator("#number").fill(await expectedNumber(page));
  await lookOneByOne(page);
  await page.locator("#done").click();
  await nextAct(page, before);
}

/** Ticks the points of a check, where it has some. */
export async function lookOneByOne(page) {
  for (const point of await page.locator(".points input").all()) await point.check();
}

/** Says the current act is done by the space bar alone: a check's points one after the other, then the answer. */
export async function spaceUntilDone(page) {
  const points = await page.locator(".points input:not(:checked)").count();
  if (points > 0) await page.waitForFunction(() => document.activeElement?.matches(".points input"));
  for (let i = 0; i < points; i++) {
    await page.keyboard.press("Space");
    await hand(page);
  }
  await page.keyboard.press("Space");
}

/** Waits as long as a hand takes at the least between two keys. */
export const hand = (page) => page.waitForTimeout(80);

/** Waits until a tap is none half of a double one any more. */
export const apart = (page) => page.waitForTimeout(420);

/** Waits until the bench has moved on from an act, and until a hand can press the next key. */
export const nextAct = async (page, from) => {
  await page.waitForFunction((step) => document.getElementById("bench")?.dataset.step !== step, from, { timeout: 10_000 });
  await hand(page);
};

/** Waits until the page hears keys. */
export const listens = (page) => page.waitForFunction(() => window.htmx && document.readyState === "complete");

/**
 * Works until the given act's title is shown, or until all acts are done. Presses the page's own buttons from within the
 * page: doAct does the same with the mouse, a good deal slower.
 */
export async function workUntil(page, title) {
  await listens(page);
  const arrived = await page.evaluate(async (pattern) => {
    const by = (id) => document.getElementById(id);
    const there = () => {
      const heading = document.querySelector(".act h1");
      return !by("bench").dataset.step || (pattern && new RegExp(pattern).test(heading.textContent));
    };
    while (!there()) {
      const before = by("bench").dataset.seen;
      const toTick = document.querySelector(".to-tick button");
      if (by("read")) by("read").checked = true;
      document.querySelectorAll(".points input").forEach((point) => (point.checked = true));
      if (by("number")) by("number").value = document.querySelector("#expected b").textContent.trim();
      (toTick ?? by("done")).click();
      const began = performance.now();
      while (by("bench").dataset.seen === before) {
        if (performance.now() - began > 10_000) return by("notice").textContent + document.querySelector(".act").textContent;
        await new Promise((resolve) => setTimeout(resolve, 5));
      }
    }
    return true;
  }, title?.source);
  expect(arrived).toBe(true);
}

/** Moves the focus with the Tab key until it is on what is named so. */
export async function tabTo(page, wanted) {
  for (let i = 0; i < 120; i++) {
    const here = await page.evaluate(
      () => document.activeElement.getAttribute("aria-label") ?? document.activeElement.labels?.[0]?.textContent ?? document.activeElement.textContent,
    );
    if (wanted.test(here.trim())) return;
    await page.keyboard.press("Tab");
  }
  throw new Error(`the keyboard does not reach ${wanted}`);
}

/** A client of the API that acts as whoever is signed in on the page; makes its token on their own page. */
export async function apiOf(page, workshop, playwright, name) {
  await page.goto(`${workshop.url}/account`);
  await page.getByLabel("What for").fill(name);
  await page.getByRole("checkbox", { name: "counter" }).check();
  await page.getByRole("button", { name: "Make a token" }).click();
  const token = (await page.locator("#token").textContent()).trim();
  const client = await playwright.request.newContext({ baseURL: workshop.url, extraHTTPHeaders: { Authorization: `Bearer ${token}` } });
  return { token, client };
}

export { expect };
