import { goOn, name, readNumber } from "./support/naming.mjs";
import { expect, faultsOf, step, test } from "./support/test.mjs";
import { openWorkshop } from "./support/workshop.mjs";

// Headings as people have them, a semicolon between, two days written with the day first, one row that is wrong.
const fleet = `Asset tag;Serial number;Make;Device model;Location;Purchased
TW-0001;X90100;Tarnwell;Corncrake 12;Tidewell school;03/09/2024
TW-0002;X90101;Tarnwell;Corncrake 12;Tidewell school;25/09/2024
TW-0002;X90102;Tarnwell;Corncrake 12;Ferry Office;25/09/2024
`;
const shelf = "bin,part no,qty,what it is,kind\nA-01,CRK-4411-02,2,battery 40 Wh,battery\n";

const csv = (text) => ({ name: "list.csv", mimeType: "text/csv", buffer: Buffer.from(text) });

async function look(page, url, sheet, text) {
  await page.goto(`${url}/house/import?sheet=${sheet}`);
  await page.locator("#file").setInputFiles(csv(text));
  await page.getByRole("button", { name: "Look at it" }).click();
}

test("an empty workshop: begun from lists, somebody invited, a first repair closed", async ({ browser }) => {
  const workshop = await openWorkshop({ empty: true });
  try {
    const context = await browser.newContext();
    const page = await context.newPage();
    await page.goto(`${workshop.url}/sign-in`);
    await page.getByLabel("Name").fill("lead");
    await page.getByLabel("Password").fill(workshop.firstPassword);
    await page.getByRole("button", { name: "Sign in" }).click();
    await page.getByLabel("Present password").fill(workshop.firstPassword);
    await page.getByLabel("New password").fill("quiet harbour lamp onion");
    await page.getByLabel("The same again").fill("quiet harbour lamp onion");
    await page.getByRole("button", { name: "Change it" }).click();
    await expect(page.getByText("Your password is changed")).toBeVisible();

    // Who they are; a pattern of tags that is none is refused and nothing typed is lost.
    await page.goto(`${workshop.url}/`);
    await page.getByRole("link", { name: "Begin" }).click();
    await page.getByLabel("The organisation").fill("Skerrow Isles Council");
    await page.getByLabel("Its tags look like").fill("tags");
    await page.getByRole("button", { name: "That is us" }).click();
    await expect(page.getByRole("alert")).toContainText("# for a digit");
    await expect(page.getByLabel("The organisation")).toHaveValue("Skerrow Isles Council");
    await page.getByLabel("Its tags look like").fill("TW-####");
    await page.getByLabel("Time zone").fill("Europe/Atlantis");
    await page.getByRole("button", { name: "That is us" }).click();
    await expect(page.getByRole("alert")).toContainText("no time zone");
    await page.getByLabel("Time zone").fill("Europe/Lisbon");
    await page.getByRole("button", { name: "That is us" }).click();
    await expect(page.getByText("its tags look like TW-0123")).toBeVisible();
    expect(await faultsOf(page)).toEqual([]);

    // The fleet: a file that is no list, one whose models nobody has entered; the wrong row is left out.
    await look(page, workshop.url, "units", "\0\u0001\u0002");
    await expect(page.getByRole("alert")).toContainText("neither a table in text");
    await look(page, workshop.url, "units", fleet);
    await expect(page.locator(".becomes-refused")).toContainText("3");
    await page.getByLabel("Models nobody has entered yet are").selectOption({ label: "entered as laptops" });
    await page.getByRole("button", { name: "Read it so" }).click();
    await expect(page.locator(".becomes-new")).toContainText("2");
    await expect(page.locator(".fates-of")).toContainText("The tag TW-0002 stands in line 3 already.");
    expect(await faultsOf(page)).toEqual([]);
    const [wrong] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: /with reasons, as a file/ }).click()]);
    expect((await (await wrong.createReadStream()).toArray()).join("")).toContain("X90102");
    await page.getByRole("button", { name: "Take in the 2 good rows" }).click();
    await expect(page.getByText("2 entered, 0 changed, 0 as before, 1 left out.").first()).toBeVisible();
    await look(page, workshop.url, "stock", shelf);
    await page.getByRole("button", { name: "Take it in: 1 row" }).click();
    await expect(page.getByText("1 entered").first()).toBeVisible();
    expect(workshop.sql("SELECT string_agg(code, ' ') FROM items")).toBe("IT-00001 IT-00002");

    // What was taken in leaves again.
    await page.goto(`${workshop.url}/house/export`);
    const [out] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "units.csv" }).click()]);
    expect((await (await out.createReadStream()).toArray()).join("")).toContain("TW-0001,X90100,Corncrake 12,Tarnwell,Tidewell school");

    const everything = await page.request.get(`${workshop.url}/house/export/everything.zip`);
    expect(everything.status()).toBe(200);
    const zip = await everything.body();
    expect(zip.length).toBe(Number(everything.headers()["content-length"]));
    // Its last record says how many files are in it: the end of a whole zip (APPNOTE.TXT 4.3.16, from memory).
    expect(zip.readUInt32LE(zip.length - 22)).toBe(0x06054b50);
    expect(zip.readUInt16LE(zip.length - 12)).toBeGreaterThan(40);

    // A technician is invited and chooses a password.
    await page.goto(`${workshop.url}/house/people`);
    await page.getByLabel("Name", { exact: true }).fill("S. Reed");
    await page.getByLabel("Signs in as").fill("sol");
    await page.getByRole("button", { name: "Let in", exact: true }).click();
    const link = await page.locator("[data-invitation]").getAttribute("href");
    const bench = await (await browser.newContext()).newPage();
    await bench.goto(link);
    await bench.getByLabel("Password").fill("ferry lamp onion drum");
    await bench.getByLabel("The same again").fill("ferry lamp onion drum");
    await bench.getByRole("button", { name: "Choose it" }).click();
    await expect(bench.getByRole("heading", { name: "Counter" })).toBeVisible();
    await bench.goto(`${workshop.url}/house/begin`);
    await expect(bench.getByRole("heading", { name: "Beginning" })).toBeHidden();

    // The first repair, of a machine that came from the list, by naming what comes off.
    await bench.getByLabel("Scan line").fill("tw-0001");
    await bench.keyboard.press("Enter");
    await bench.getByRole("link", { name: "Take in for repair" }).click();
    await bench.getByLabel(/not charge/i).first().check();
    await bench.getByRole("button", { name: "Open the repair" }).click();
    await expect(bench).toHaveURL(/repairs\/R-\d+/);
    const repair = bench.url().match(/R-\d+/)[0];
    await bench.goto(`${workshop.url}/repairs/${repair}`);
    await bench.getByRole("button", { name: "To the bench, without a map" }).click();
    await goOn(bench, async () => (await bench.locator(".name-form").count()) > 0);
    await name(bench, "screws", "base screws", (form) => form.getByLabel("How many").fill("8"));
    await name(bench, "part", "base cover");
    const seen = await bench.locator("#bench").getAttribute("data-seen");
    await bench.getByRole("button", { name: "The battery is unplugged" }).click();
    await expect(bench.locator("#bench")).not.toHaveAttribute("data-seen", seen);
    await name(bench, "part", "battery", async (form) => {
      await form.getByLabel("another one goes in").check();
      await form.getByLabel("battery plug").check();
    });
    await readNumber(bench, "CRK-4411-01");
    await goOn(bench, async () => (await bench.locator("#number").count()) > 0);
    await readNumber(bench, "CRK-4411-02");
    await goOn(bench, async () => !(await step(bench)));
    await bench.locator("#done").click();
    await expect(bench.getByText("is closed")).toBeVisible();
    expect(workshop.sql(`SELECT state FROM repairs`)).toBe("Closed");
    expect(workshop.sql(`SELECT kind || ' ' || count(*) FROM bins JOIN items ON items.bin_id = bins.id GROUP BY kind ORDER BY 1`)).toContain("Shelf");
  } finally {
    workshop.close();
  }
});
