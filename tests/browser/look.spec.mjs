import { expect, faultsOf, signIn, test, wcag } from "./support/test.mjs";

const pages = {
  Counter: "/",
  passport: "/fleet/SK-00417",
  "passport without a map": "/fleet/NO-MAP",
  "taking in": "/counter/take-in/SK-00417",
  "repair ready": "/repairs/R-1005",
  "repair finished": "/repairs/R-1002",
  Bench: "/bench",
  session: "/bench/R-1004",
  history: "/history",
  Fleet: "/fleet",
  outlook: "/outlook",
  "bench calendar": "/outlook/calendar",
  hours: "/outlook/calendar/hours",
  "what fails": "/outlook/watch",
  "how a part lasts": "/outlook/wear/thimble-11/battery",
  spares: "/outlook/spares",
  "a last order": "/outlook/last-order/thimble-11/battery",
  money: "/outlook/money",
  harvest: "/outlook/harvest",
  "repair or replace": "/outlook/replace",
  report: "/outlook/report",
  practice: "/practice",
  Stores: "/stores",
  number: "/stores/numbers/TW-5R0Q-22011",
  item: "/stores/items/IT-00001",
  "unknown code": "/scan?code=XX-1",
  Maps: "/maps",
  map: "/maps/sandpiper-13-turn?goal=replace:deck&failed=touchpad&step=30",
  House: "/house",
  learned: "/house/learned",
  audit: "/house/audit",
  "how it runs": "/house/running",
  beginning: "/house/begin",
  "lists in": "/house/import",
  "lists out": "/house/export",
  people: "/house/people",
  suppliers: "/stores/suppliers",
  "to be fetched": "/counter/to-fetch",
  "found by a part": "/scan?code=battery",
  triage: "/repairs/R-1010/triage",
  "triage ended": "/repairs/R-1016/triage",
  "what to fit": "/repairs/R-1019/fit",
  offers: "/repairs/R-1008/offers/touchpad",
  decide: "/repairs/R-1015/decide",
  "set apart": "/repairs/R-1013",
  "session without a map": "/bench/R-1020",
  findings: "/maps/sandpiper-14/findings",
  model: "/maps/sandpiper-14/model",
  "a map from a file": "/maps/import",
  "photographs of a model": "/maps/sandpiper-14/picture",
  "for the user": "/repairs/R-1002/for-user",
  "two maps": "/maps/thimble-11/compare?other=thimble-11-r",
  box: "/counter/box",
  "what to take along": "/counter/kit",
  campaigns: "/fleet/campaigns",
  badge: "/badge",
  due: "/counter/due",
  account: "/account",
  "new units": "/fleet/register",
  bin: "/stores/bins/A-01",
  count: "/stores/bins/B-07/count",
  receive: "/stores/receive",
  "what to order": "/stores/proposal",
  "new number": "/stores/new-number",
  "hand out": "/stores/issue/R-1005",
  "a machine of the demo": "DEMO/units/SK-00417",
  "the demo's machines": "DEMO/",
  scanner: "/scanner",
  labels: "/labels?kind=bin&codes=A-01,A-03",
};

const at = (workshop, address) => (address.startsWith("DEMO") ? workshop.demoUrl + address.slice(4) : workshop.url + address);

/** The pages in three parts, so that no test has too much to do. */
const parts = [0, 1, 2].map((part) => Object.entries(pages).filter((_, i) => i % 3 === part));

for (const [scheme, part] of ["light", "dark"].flatMap((scheme) => parts.map((_, part) => [scheme, part]))) {
  test(`every page passes axe, ${scheme}, part ${part + 1}`, async ({ page, workshop }) => {
    workshop.sql("INSERT INTO models (code, name, maker, class, life_months, new_price) VALUES ('wren-12', 'Wren 12', 'Tarnwell', 'Laptop', 60, 0) ON CONFLICT DO NOTHING");
    const withoutMap = workshop.sql(
      `INSERT INTO units (id, tag, serial, model_code, site, bought_on, state, in_loan_pool)
       VALUES (gen_random_uuid(), 'SK-090${scheme.length}${part}', '5TW${scheme}${part}', 'wren-12', 'Ferry Office', '2024-01-01', 'InUse', false) RETURNING tag`,
    );
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: "reduce" });
    await page.goto(`${workshop.url}/sign-in`);
    const check = async (name) => {
      // In the dark only the colours differ.
      const faults = await faultsOf(page, (axe) =>
        scheme === "dark" ? axe.withRules(["color-contrast", "link-in-text-block"]) : axe.withTags(wcag),
      );
      expect(faults, name).toEqual([]);
    };
    await check("sign-in");
    await signIn(page, workshop, "mara");
    await page.goto(`${workshop.url}/stores/bins/B-07`);
    await page.getByRole("button", { name: /counting|Count this bin/ }).click();
    for (const [name, address] of parts[part]) {
      await page.goto(at(workshop, address).replace("NO-MAP", withoutMap));
      await check(name);
    }
  });
}

for (const width of [390, 768, 1920]) {
  test(`no page scrolls sideways at ${width} pixels, and what is touched at the bench is large enough`, async ({ page, workshop }) => {
    // What is printed is as wide as its paper.
    await page.setViewportSize({ width, height: 1024 });
    await signIn(page, workshop, "mara");
    // Five parts exchanged in one repair, an address somebody pasted into what was said, and a file of a long name.
    workshop.sql(
      `DELETE FROM repair_lines WHERE slot LIKE '%-again';
       INSERT INTO repair_lines (id, repair_id, position, assembly, assembly_name, slot, fault, number_out, number_in, surprise)
         SELECT gen_random_uuid(), l.repair_id, n, l.assembly, l.assembly_name, n || '-again', l.fault, l.number_out, l.number_in, false
         FROM repair_lines l JOIN repairs r ON r.id = l.repair_id, generate_series(1, 4) n WHERE r.number = 1001 AND l.position = 0;
       UPDATE repairs SET note = 'https://wiki.island.example/lots?photo=' || repeat('0f3a9c', 20) WHERE number < 1006;
       UPDATE follow_ups SET reason = repeat('0f3a9c', 20)`,
    );
    await page.goto(`${workshop.url}/house/import?sheet=units`);
    await page.locator("#file").setInputFiles({ name: `${"fleet".repeat(30)}.csv`, mimeType: "text/csv", buffer: Buffer.from("Asset tag,Serial\nSK-02001,5T0Z10A1") });
    await page.getByRole("button", { name: "Look at it" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText("fleetfleet");
    const wide = () => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
    expect(await wide(), "a list that was sent").toBeLessThanOrEqual(0);
    for (const [name, address] of Object.entries(pages).filter(([name]) => !["passport without a map", "labels", "report"].includes(name))) {
      await page.goto(at(workshop, address));
      expect(await wide(), name).toBeLessThanOrEqual(0);
    }
    await page.goto(`${workshop.url}/bench/R-1004`);
    for (const button of await page.locator(".act button:visible, .act summary.button").all()) {
      const box = await button.boundingBox();
      expect(Math.min(box.width, box.height), await button.textContent()).toBeGreaterThanOrEqual(44);
    }
  });
}

for (const part of [0, 1, 2]) {
  test(`the keyboard reaches everything there is to press or fill on every page, part ${part + 1}`, async ({ page, workshop }) => {
    await signIn(page, workshop, "mara");
    for (const [name, address] of parts[part].filter(([name]) => name !== "passport without a map")) {
      await page.goto(at(workshop, address));
      // What is still being reckoned takes the place of what is shown.
      await expect(page.locator("[aria-busy=true]")).toHaveCount(0);
      const wanted = await page.evaluate(() => {
        const seen = (element) => element.checkVisibility({ visibilityProperty: true }) && element.getClientRects().length > 0;
        const all = [...document.querySelectorAll("a[href], button, input, select, textarea, summary")].filter(
          (e) => seen(e) && !e.disabled && e.tabIndex >= 0 && e.type !== "hidden",
        );
        // Of a group of radio buttons the arrow keys reach the others.
        const groups = new Set();
        const stops = all.filter((e) => e.type !== "radio" || !groups.has(e.name) && groups.add(e.name));
        window.reached = new Set();
        document.addEventListener("focusin", ({ target }) => window.reached.add(target.type === "radio" ? `radio ${target.name}` : target));
        window.stops = stops.map((e) => (e.type === "radio" ? `radio ${e.name}` : e));
        document.activeElement?.blur();
        // A day has three fields and a button within it; what scrolls is a stop of its own.
        return stops.length + 3 * stops.filter((e) => e.type === "date").length + 30;
      });
      for (let i = 0; i < wanted; i++) await page.keyboard.press("Tab");
      const missed = await page.evaluate(() =>
        window.stops.filter((s) => !window.reached.has(s)).map((s) => (typeof s === "string" ? s : s.outerHTML.slice(0, 120))),
      );
      expect(missed, name).toEqual([]);
    }
  });
}
