import { goOn, name, readNumber } from "./support/naming.mjs";
import { byWayOfTheCage, entered, planned, takenIn } from "./support/ownMachine.mjs";
import { expect, faultsOf, signIn, step, test } from "./support/test.mjs";

async function toTheBench(page, workshop, tag) {
  const repair = await takenIn(page, workshop.url, tag);
  await page.goto(`${workshop.url}/repairs/${repair}`);
  await page.getByRole("button", { name: "To the bench, without a map" }).click();
  await expect(page).toHaveURL(new RegExp(`bench/${repair}`));
  return repair;
}

test("a machine nobody here has seen: entered, worked on by naming, planned by its draft, published", async ({ page, workshop }) => {
  await signIn(page, workshop, "mara");
  await page.getByRole("link", { name: "Maps" }).click();
  await page.getByRole("link", { name: "Enter a model" }).click();
  await page.getByLabel("Maker").fill("Tarnwell");
  await page.getByLabel("Model", { exact: true }).fill("...");
  await page.getByLabel("It is a").selectOption({ label: "laptop" });
  await page.getByRole("button", { name: "Enter it" }).click();
  await expect(page.getByRole("alert")).toContainText("as printed on the machine");
  await page.getByLabel("Model", { exact: true }).fill("Corncrake 12");
  await page.getByRole("button", { name: "Enter it" }).click();
  await expect(page).toHaveURL(/maps\/corncrake-12\/draft/);

  await page.getByRole("link", { name: "Scan tag and serial" }).click();
  await page.locator("#lines").fill("SK-91001\nCRK1001\nSK-91002\nCRK1002\n");
  await page.getByLabel("For the site").fill("Ferry Office");
  await page.getByRole("button", { name: "Enter them" }).click();
  await expect(page.getByText("2 units of the Corncrake 12 entered")).toBeVisible();

  // The first one is worked on by naming; what held a part is proposed and confirmed with it.
  await toTheBench(page, workshop, "SK-91001");
  await goOn(page, async () => (await page.locator(".name-form").count()) > 0);
  await name(page, "screws", "base screws", (form) => form.getByLabel("How many").fill("8"));
  await page.locator(".name-form").getByLabel("part", { exact: true }).check();
  await expect(page.locator(".name-form").getByLabel("base screws")).toBeChecked();
  await name(page, "part", "base cover");

  // The drawing grows beside the work: what came off is placed at once, by two clicks, or later.
  const tray = page.locator(".tray li", { has: page.locator('[data-of="base-cover"]') });
  await tray.getByText("Place", { exact: true }).click();
  const drawing = page.locator(".tray .machine");
  await drawing.click({ position: { x: 20, y: 20 } });
  await drawing.press("Backspace");
  await expect(page.locator(".stack li")).toHaveCount(2);
  for (const [x, y] of [[12, 12], [200, 120]]) await drawing.click({ position: { x, y } });
  await tray.getByRole("button", { name: "Place it" }).click();
  await expect(page.getByText("It is placed.")).toBeVisible();
  await expect(tray).toContainText("placed");
  await expect(tray).not.toContainText("not placed");
  expect(await faultsOf(page)).toEqual([]);
  const seen = await page.locator("#bench").getAttribute("data-seen");
  await page.getByRole("button", { name: "The battery is unplugged" }).click();
  await expect(page.locator("#bench")).not.toHaveAttribute("data-seen", seen);
  await name(page, "screws", "fan screws", (form) => form.getByLabel("How many").fill("3"));
  await name(page, "part", "fan");
  await name(page, "part", "Fan", undefined, true);
  await expect(page.getByRole("alert")).toContainText("is off already");
  await name(page, "part", "battery", async (form) => {
    await form.getByLabel("another one goes in").check();
    await form.getByLabel("battery plug").check();
  });
  await readNumber(page, "CRK-4411-01");
  await goOn(page, async () => (await page.locator("#number").count()) > 0);
  await readNumber(page, "CRK-4411-02");
  await goOn(page, async () => !(await step(page)));
  await page.locator("#done").click();
  await expect(page.getByText("is closed")).toBeVisible();

  // The draft: what is doubtful is asked, a part is placed by two clicks, another name stays the same thing.
  await page.goto(`${workshop.url}/maps/corncrake-12/draft`);
  await expect(page.getByText("a draft from 1 session of 1 person")).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
  const row = page.locator(".draft-things > li", { has: page.locator('[data-of="fan"]') });
  await row.getByText("Change").click();
  const mat = page.locator(".draft-mat .machine");
  const box = await mat.boundingBox();
  await page.mouse.click(box.x + box.width * 0.1, box.y + box.height * 0.2);
  await page.mouse.click(box.x + box.width * 0.3, box.y + box.height * 0.5);
  await row.getByRole("button", { name: "Place it" }).click();
  // The line is open again when the page comes back.
  await expect(row.locator(".thing")).toHaveAttribute("open", "");
  await expect(row).not.toContainText("not placed");
  await page.locator(".thing[open]").getByLabel("Its place, mm").fill("here");
  await page.locator(".thing[open]").getByRole("button", { name: "Place it" }).click();
  await expect(page.locator(".notice")).toContainText("A place is written as millimetres");

  // An order that is only believed is an arrow with broken lines between what is placed, numbered as it is asked about.
  const of = page.locator(".draft-things > li", { has: page.locator('[data-of="battery"]') });
  await expect(page.locator(".machine .wait")).toHaveCount(0);
  await of.getByText("Change").click();
  await of.getByLabel("Its place, mm").fill("30,130 250,200");
  await of.getByRole("button", { name: "Place it" }).click();
  const asked = page.locator(".doubts li", { hasText: /Battery came only after fan/ });
  await expect(page.locator(".machine .wait text")).toHaveText(await asked.locator(".wait-number").textContent());

  // Somebody else looks at an older page: nothing of theirs is lost silently.
  const other = await page.context().newPage();
  await other.goto(`${workshop.url}/maps/corncrake-12/draft`);
  const doubt = page.locator(".doubts li", { hasText: /Battery came only after fan/ });
  await doubt.getByRole("button", { name: "It need not" }).click();
  await expect(page.getByText("battery need not wait for the fan")).toBeVisible();
  await other.locator(".doubts li").first().getByRole("button", { name: "It must" }).click();
  await expect(other.locator(".notice")).toContainText("has grown since");
  await other.close();

  // Planned by the draft, without the fan; taken back, with it.
  await page.goto(`${workshop.url}/maps/corncrake-12?goal=replace:battery`);
  await expect(page.locator(".plan")).not.toContainText("Lift out the fan");
  await page.goto(`${workshop.url}/maps/corncrake-12/draft`);
  await page.getByRole("row", { name: /need not wait/ }).getByRole("button", { name: "Take back" }).click();
  await expect(page.getByText("Taken back.")).toBeVisible();
  await page.goto(`${workshop.url}/maps/corncrake-12?goal=replace:battery`);
  await expect(page.locator(".plan")).toContainText("Lift out the fan");

  // The next one without a plan picks by number what is known.
  await toTheBench(page, workshop, "SK-91002");
  await goOn(page, async () => (await page.locator(".name-form").count()) > 0);
  await expect(page.locator("#pick-1")).toContainText("base screws");
  await page.locator("h1").first().click();
  await page.keyboard.press("1");
  await expect(page.locator(".stack")).toContainText("base screws");

  // A lead publishes; from then on it is an edition like any other.
  await page.goto(`${workshop.url}/maps/corncrake-12/publish`);
  await page.getByRole("button", { name: "Publish it" }).click();
  await expect(page.getByText("is published, as revision")).toBeVisible();
  await expect(page.getByText("Made from 1 session of 1 person.")).toBeVisible();

  // Out as a file, and in again where nothing is known of it.
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "The map as a file" }).click()]);
  const text = (await (await file.createReadStream()).toArray()).join("");
  await page.goto(`${workshop.url}/maps/import`);
  await page.getByLabel("The file").setInputFiles({ name: "broken.json", mimeType: "application/json", buffer: Buffer.from("{}") });
  await page.getByRole("button", { name: "Check it" }).click();
  await expect(page.getByRole("alert")).toContainText("no usable map");
  await page
    .getByLabel("The file")
    .setInputFiles({ name: "map.json", mimeType: "application/json", buffer: Buffer.from(text.replaceAll("corncrake-12", "corncrake-14").replaceAll("Corncrake 12", "Corncrake 14")) });
  await page.getByRole("button", { name: "Check it" }).click();
  await expect(page.getByText("no map of it is here yet")).toBeVisible();
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText("The map of the Corncrake 14 is published")).toBeVisible();

  // With its photographs it is a zip; one that holds nothing new changes nothing.
  await page.goto(`${workshop.url}/maps/corncrake-12`);
  const [zip] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "With its photographs" }).click()]);
  await page.goto(`${workshop.url}/maps/import`);
  await page.getByLabel("The file").setInputFiles(await zip.path());
  await page.getByRole("button", { name: "Check it" }).click();
  await expect(page.getByText("0 things otherwise than ours")).toBeVisible();
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText("has this map already")).toBeVisible();

  // The draft goes on after it was published; a lead sees what a new edition would change.
  await page.goto(`${workshop.url}/maps/corncrake-12`);
  await page.getByRole("link", { name: "The draft goes on" }).click();
  await expect(page.getByText("the draft says the same")).toBeVisible();
  await row.getByText("Change").click();
  await row.locator("[name=Name]").first().fill("blower");
  await row.getByRole("button", { name: "Call it so" }).click();
  await expect(page.getByText("the draft has gone on: 1 thing otherwise")).toBeVisible();
  await page.getByRole("link", { name: "Publish" }).click();
  await expect(page.locator(".changes")).toContainText("altered: part blower");
  await page.getByRole("button", { name: "Publish it" }).click();
  await expect(page.getByText("is published, as revision")).toBeVisible();
});

test("a draft begun as a like model is drawn by touch, by keys alone and over a photograph", async ({ browser, workshop }) => {
  test.slow(); // A whole road, with the program killed and started again on it.
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 768, height: 1024 } });
  const page = await context.newPage();
  await signIn(page, workshop, "mara");
  const photo = await page.screenshot();
  await page.goto(`${workshop.url}/maps/new`);
  await page.getByLabel("Maker").fill("Tarnwell");
  await page.getByLabel("Model", { exact: true }).fill("Godwit 14");
  await page.getByLabel("It is a").selectOption({ label: "laptop" });
  await page.getByRole("button", { name: "Enter it" }).click();
  await page.getByRole("link", { name: "The model" }).click();
  await page.getByLabel("It is built like the").selectOption({ label: "Sandpiper 14" });
  await page.getByRole("button", { name: "Copy its map" }).click();
  await expect(page.getByText("Copied from the Sandpiper 14")).toBeVisible();
  await page.getByLabel("the battery can be switched off in it").check();
  await page.getByRole("button", { name: "Keep what it offers" }).click();
  await expect(page.getByLabel("the battery can be switched off in it")).toBeChecked();
  await page.getByRole("link", { name: "Its draft" }).click();
  const line = (id) => page.locator(".draft-things > li", { has: page.locator(`[data-of="${id}"]`) });
  await expect(line("fan")).toContainText("from the Sandpiper 14, not seen here");
  await line("fan").getByRole("button", { name: "It is here: fan", exact: true }).click();
  await expect(line("fan")).not.toContainText("not seen here");

  // By touch: what is touched opens, then a place for each of its screws.
  await page.locator('.machine [data-id="fan-screws"] g').first().tap();
  await expect(line("fan-screws").locator(".thing")).toHaveAttribute("open", "");
  const box = await page.locator(".draft-mat .machine").boundingBox();
  for (const [x, y] of [[0.7, 0.3], [0.72, 0.42]]) await page.touchscreen.tap(box.x + box.width * x, box.y + box.height * y);
  await expect(page.locator("#placing output")).toHaveText("2 of 2 places");
  await page.touchscreen.tap(box.x + box.width * 0.5, box.y + box.height * 0.5);
  await page.getByRole("button", { name: "Last point back" }).tap();
  await expect(page.locator("#placing output")).toHaveText("2 of 2 places");
  await line("fan-screws").getByRole("button", { name: "Place it" }).tap();
  await expect(page.getByText("Kept.")).toBeVisible();

  // By keys alone: open the line, choose the form, go to the drawing, two points, send.
  await line("speakers").locator("summary").focus();
  await page.keyboard.press("Enter");
  await line("speakers").getByLabel("round: centre, edge").focus();
  await page.keyboard.press("Space");
  await page.locator("#snap").focus();
  await page.keyboard.press("Space");
  await page.keyboard.press("Shift+Tab");
  await page.locator(".draft-mat .machine").focus();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Shift+ArrowDown");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Backspace");
  await page.keyboard.press("Escape");
  await expect(line("speakers").getByLabel("Its place, mm")).toBeFocused();
  await expect(line("speakers").getByLabel("Its place, mm")).toHaveValue(/^[\d.]+,[\d.]+ [\d.]+,[\d.]+$/);
  await page.keyboard.press("Enter");
  await expect(page.locator('.machine [data-id="speakers"] circle')).toHaveAttribute("r", "10");

  // Several at once; a wrong one says why, and nothing is lost.
  const before = await page.locator('.machine [data-id="battery"] rect').getAttribute("x");
  for (const name of ["battery", "speakers"]) await page.getByLabel(`Move ${name}`, { exact: true }).check();
  await page.getByLabel("to the right").fill("-900");
  await page.getByRole("button", { name: "Move them" }).click();
  await expect(page.locator(".notice")).toContainText("outside the drawing");
  for (const name of ["battery", "speakers"]) await page.getByLabel(`Move ${name}`, { exact: true }).check();
  await page.getByLabel("to the right").fill("2");
  await page.getByRole("button", { name: "Move them" }).click();
  await expect(page.locator('.machine [data-id="battery"] rect')).toHaveAttribute("x", String(Number(before) + 2));

  // The program is killed while one draws: every word that was sent is there, and one goes on.
  await line("fan").locator("summary").click();
  await line("fan").locator("[name=Name]").first().fill("blower");
  await workshop.killAndRestart();
  await page.reload();
  await expect(page.locator('.machine [data-id="battery"] rect')).toHaveAttribute("x", String(Number(before) + 2));
  await line("fan").locator("summary").click();
  await line("fan").locator("[name=Name]").first().fill("blower");
  await line("fan").getByRole("button", { name: "Call it so" }).click();
  await expect(line("fan")).toContainText("Blower");

  // A plan beside it follows; what goes into a slot is asked by kind, and what is wrong stays to be put right.
  await page.getByLabel("A plan beside it").selectOption("memory-a");
  await page.getByRole("button", { name: "Show" }).click();
  await expect(page.locator(".beside-plan")).toContainText("Lift out the base cover");
  await page.getByRole("link", { name: "memory-a" }).click();
  await page.getByLabel("Fastest speed used, MT/s").fill("3");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("alert")).toContainText("between 800 and 12800");
  await page.getByLabel("Fastest speed used, MT/s").fill("2666");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(line("memory-a")).toContainText("2666 MT/s");
  expect(await faultsOf(page)).toEqual([]);

  // A photograph lies under the drawing by two of its points; no repair is needed to keep one.
  await page.goto(`${workshop.url}/maps/godwit-14/picture`);
  await expect(page.getByText("One taken at any time can be kept here")).toBeVisible();
  await page.getByLabel("Another one").setInputFiles({ name: "notes.txt", mimeType: "text/plain", buffer: Buffer.from("no picture") });
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.locator(".notice")).toContainText("no picture this program can read");
  await page.getByLabel("Another one").setInputFiles({ name: "open.png", mimeType: "image/png", buffer: photo });
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText("The photograph is kept with the model.")).toBeVisible();
  await page.locator(".photos a").first().click();
  const picture = page.locator("#picture");
  await picture.click({ position: { x: 20, y: 20 } });
  await picture.click({ position: { x: 21, y: 20 } });
  await page.getByRole("button", { name: "Lay it under" }).click();
  await expect(page.getByRole("alert")).toContainText("lie on one spot");
  await page.getByLabel("Both points, as clicked").fill("");
  await picture.click({ position: { x: 20, y: 20 } });
  await picture.click({ position: { x: (await picture.boundingBox()).width - 20, y: 20 } });
  await page.getByRole("button", { name: "Lay it under" }).click();
  await expect(page.locator(".machine.over-picture image")).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
  await context.close();
});

test("what a draft does not know is tried at the bench where that is worth it", async ({ page, workshop }) => {
  test.slow(); // Two whole repairs.
  await signIn(page, workshop, "mara");
  await entered(page, workshop.url, "Ortolan 13", ["SK-91101", "SK-91102"]);
  await byWayOfTheCage(page, workshop.url, "SK-91101");
  await page.goto(`${workshop.url}/maps/ortolan-13?goal=replace:fan`);
  await expect(page.locator(".try")).toContainText("the fan may be tried");

  const repair = await planned(page, workshop.url, "SK-91102");
  await page.goto(`${workshop.url}/repairs/${repair}`);
  await page.getByRole("button", { name: /^Take IT-/ }).first().click();
  await page.getByRole("button", { name: "To the bench", exact: true }).click();
  await goOn(page, async () => (await page.locator(".asked").count()) > 0);
  await expect(page.locator(".asked")).toContainText("Worth a try: the fan before the drive cage.");
  await expect(page.locator(".act h1")).toContainText("cage screws");
  expect(await faultsOf(page)).toEqual([]);

  await page.getByRole("button", { name: "Try it" }).click();
  await expect(page.locator(".act h1")).toContainText("fan screws");
  await page.getByRole("button", { name: /^Only the first/ }).click();
  await expect(page.locator(".act h1")).toHaveText("Lift out the fan");
  await page.getByRole("button", { name: "It does not come: the drive cage first" }).click();
  await expect(page.locator(".act h1")).toContainText("cage screws");
  await expect(page.locator(".asked")).toHaveCount(0);
});
