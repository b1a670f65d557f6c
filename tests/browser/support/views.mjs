/** The main views of the demo world, by the name of their picture. */
export const views = {
  counter: { address: "/" },
  "take-in": { address: "/counter/take-in/SK-00417" },
  triage: { address: "/repairs/R-1010/triage" },
  fit: { address: "/repairs/R-1019/fit" },
  offers: { address: "/repairs/R-1009/offers/keyboard-deck" },
  decide: { address: "/repairs/R-1014/decide" },
  passport: { address: "/fleet/SK-00036" },
  repair: { address: "/repairs/R-1005" },
  bench: { address: "/bench/R-1004" },
  order: { address: "/stores/proposal" },
  map: { address: "/maps/sandpiper-14?goal=replace:board&step=36" },
  house: { address: "/house" },
  list: {
    address: "/house/import?sheet=units",
    before: async (page) => {
      const [one, two] = await page.request
        .get(new URL("/house/export/units.csv", page.url()).href)
        .then((answer) => answer.text())
        .then((text) => text.split("\r\n").slice(1, 3));
      const list = [
        "Asset tag,Serial,Model,Maker,Location,Used by,Purchased",
        "SK-02001,5T0Z10A1,Sandpiper 14,Tarnwell,Tidewell High,R. Marsh,03/09/2026",
        "SK-02002,5T0Z10A2,Sandpiper 14,Tarnwell,Tidewell High,,25/09/2026",
        one.split(",").slice(0, 7).join(",").replace(/,([^,]*),([^,]*),([^,]*)$/, ",Harbour Hall,$2,$3"),
        two.split(",").slice(0, 7).join(","),
        "SK-02002,5T0Z10A3,Sandpiper 14,Tarnwell,Ferry Office,,25/09/2026",
      ].join("\n");
      await page.locator("#file").setInputFiles({ name: "fleet.csv", mimeType: "text/csv", buffer: Buffer.from(list) });
      await page.getByRole("button", { name: "Look at it" }).click();
      await page.locator(".fates").getByText("all rows").click();
      await page.locator(".fates-of").waitFor();
    },
  },
  fleet: { address: "/fleet?site=Tidewell+High&model=thimble-11" },
  outlook: { address: "/outlook" },
  calendar: { address: "/outlook/calendar", before: (page) => page.getByText(/Proved|could be found|in time/).waitFor() },
  practice: {
    address: "/practice?model=sandpiper-14",
    before: async (page) => {
      await page.locator("#goal").selectOption("replace:battery");
      await page.getByRole("button", { name: "Begin" }).first().click();
      for (const what of ["prepare:shut-down", "prepare:photo", "eject pin", "lift-out:sim-tray", "turn-over:", "PH0", "undo:base-screws", "plastic pry tool", "lift-out:base-cover", "isolate:battery-plug", "PH0", "undo:battery-screws", "lift-out:battery"]) {
        if (!what.includes(":")) {
          await page.getByLabel(what, { exact: true }).check();
          continue;
        }
        const before = await page.locator("[name=Seen]").inputValue();
        await page.locator(`button[value="${what}"]`).first().click();
        await page.waitForFunction((seen) => document.querySelector("[name=Seen]").value !== seen, before);
      }
      await page.mouse.move(0, 0);
    },
  },
  stores: { address: "/stores" },
  draft: {
    address: "/maps/new",
    before: async (page) => {
      await page.getByLabel("Maker").fill("Tarnwell");
      await page.getByLabel("Model", { exact: true }).fill("Corncrake 12");
      await page.getByLabel("It is a").selectOption({ label: "laptop" });
      await page.getByRole("button", { name: "Enter it" }).click();
      await page.goto(page.url().replace("/draft", "/model"));
      await page.getByLabel("It is built like the").selectOption({ label: "Sandpiper 14" });
      await page.getByRole("button", { name: "Copy its map" }).click();
      await page.getByText("Copied from").waitFor();
      await page.goto(`${page.url().replace("/model", "/draft")}?goal=fan`);
      for (const name of ["fan", "fan, screws", "base cover"]) await page.getByRole("button", { name: `It is here: ${name}`, exact: true }).click();
      await page.locator('[data-of="fan-screws"] summary').click();
      await page.evaluate(() => scrollTo(0, 0));
    },
  },
};
