import { act, doAct, expect, signIn, step, test, toTheBench } from "./support/test.mjs";
import { database } from "./support/workshop.mjs";

test("PostgreSQL stopped in the middle of a session", async ({ page, workshop }) => {
  await signIn(page, workshop);
  await toTheBench(page, workshop, "charger loose");
  await doAct(page);
  const title = await act(page).textContent();
  database("stop");
  try {
    await page.locator("#done").click();
    await expect(page.getByRole("alert")).toContainText("The database does not answer");
    await expect(page.getByRole("alert")).toContainText("Every act before it is");
    await page.reload();
    await expect(page.getByRole("heading", { name: "The database does not answer" })).toBeVisible();
    await expect(page.getByText("Everything recorded so far is saved")).toBeVisible();
  } finally {
    database("start");
  }
  await page.getByRole("link", { name: "Try again" }).click();
  await expect(act(page)).toHaveText(title);
  await doAct(page);
  expect(await step(page)).toBe("3");
});
