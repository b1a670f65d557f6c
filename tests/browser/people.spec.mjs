import { execFile } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { promisify } from "node:util";
import { expect, signIn, test } from "./support/test.mjs";
import { openProvider, openWorkshop, ownerOf, prepare, root } from "./support/workshop.mjs";

test("signed in by the organisation's own account; one with a password joins it", async ({ browser }) => {
  const provider = await openProvider();
  const workshop = await openWorkshop({ settings: provider.settings });
  try {
    const as = async (who) => {
      const page = await (await browser.newContext()).newPage();
      await page.goto(`${workshop.url}/fleet`);
      await page.getByRole("link", { name: "Sign in with the council's account" }).click();
      await page.getByRole("link", { name: who }).click();
      return page;
    };

    // Somebody new is brought to where they wanted to go, may what their group may, and is known.
    const sol = await as("Sol Reed");
    await expect(sol).toHaveURL(`${workshop.url}/fleet`);
    await sol.goto(`${workshop.url}/account`);
    await expect(sol.getByRole("heading", { name: "Sol Reed" })).toBeVisible();
    await sol.getByRole("button", { name: "Part them" }).click();
    await expect(sol.getByText("You have no password here")).toBeVisible();
    expect((await sol.request.get(`${workshop.url}/house/people`)).url()).toContain("not-allowed");

    // No group, no way in; a name that is taken is not theirs until whoever holds both says so.
    const nim = await as("Nim Ash");
    await expect(nim.getByRole("alert")).toContainText("no role in this workshop");
    const stranger = await as("I. Rook");
    await expect(stranger.getByRole("alert")).toContainText("Somebody signs in as ines here already");
    const ines = await (await browser.newContext()).newPage();
    await signIn(ines, workshop, "ines");
    await ines.goto(`${workshop.url}/account`);
    await ines.getByRole("button", { name: "Join it with this one" }).click();
    await ines.getByRole("link", { name: "I. Rook" }).click();
    await expect(ines.getByText("From now on you can sign in either way")).toBeVisible();
    const again = await as("I. Rook");
    await expect(again).toHaveURL(`${workshop.url}/fleet`);
    await again.goto(`${workshop.url}/account`);
    await expect(again.getByText("by badge")).toHaveCount(0);
    expect(workshop.sql("SELECT count(*) FROM technicians WHERE user_name IN ('ines', 'i.rook')")).toBe("1");

    // The provider gone, passwords still let in.
    provider.close();
    await signIn(await (await browser.newContext()).newPage(), workshop, "aled");
  } finally {
    provider.close();
    workshop.close();
  }
});

test("a backup is taken while somebody works, and what was lost comes back with it", async ({ browser }) => {
  const run = promisify(execFile);
  const workshop = await openWorkshop();
  try {
    const book = path.join(mkdtempSync(path.join(tmpdir(), "zenrik-")), "book.backup");
    const page = await (await browser.newContext()).newPage();
    await signIn(page, workshop, "mara");
    await page.goto(`${workshop.url}/fleet/SK-00417`);
    const repairs = workshop.sql("SELECT count(*) FROM repairs");
    const { stdout } = await run("./zenrik", ["backup", book, "--connection", ownerOf(workshop.database)], { cwd: root });
    expect(stdout).toContain("restored beside and is the same");
    await page.goto(`${workshop.url}/house`);
    await expect(page.getByText(/^Last backup/)).toContainText("book.backup");

    // Somebody with too much right does harm; the program goes on and shows what is left.
    workshop.sql("UPDATE units SET user_name = 'nobody'");
    await page.goto(`${workshop.url}/fleet?find=nobody`);
    await expect(page.getByText("nobody").first()).toBeVisible();

    await workshop.away(async () => {
      const back = await run("./zenrik", ["restore", book, "--connection", ownerOf(workshop.database)], { cwd: root });
      expect(back.stdout).toContain(`${repairs} repairs`);
      prepare(workshop.database);
    });
    await page.goto(`${workshop.url}/fleet/SK-00417`);
    await expect(page.getByRole("heading", { name: "SK-00417" })).toBeVisible();
    expect(workshop.sql("SELECT count(*) FROM units WHERE user_name = 'nobody'")).toBe("0");
    // Who was signed in still is, and work goes on.
    await page.getByRole("link", { name: "Take in for repair" }).click();
    await expect(page.getByRole("button", { name: "Open the repair" })).toBeVisible();
  } finally {
    workshop.close();
  }
});
