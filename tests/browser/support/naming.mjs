import { expect, lookOneByOne } from "./test.mjs";

/** Names a thing that comes off; waits until the bench shows it. */
export async function name(page, kind, text, more, refused = false) {
  const form = page.locator(".name-form");
  const seen = await page.locator("#bench").getAttribute("data-seen");
  await form.getByLabel(kind, { exact: true }).check();
  await form.getByLabel("Name, as you would call it").fill(text);
  await more?.(form);
  await form.getByRole("button", { name: "It is off" }).click();
  if (!refused) await expect(page.locator("#bench")).not.toHaveAttribute("data-seen", seen);
}

/** Says done until something else is asked. */
export async function goOn(page, until) {
  while (!(await until())) {
    const seen = await page.locator("#bench").getAttribute("data-seen");
    if (await page.locator("#read:not(:checked)").count()) await page.locator("#read").check();
    await lookOneByOne(page);
    await page.locator("#done").click();
    await expect(page.locator("#bench")).not.toHaveAttribute("data-seen", seen);
  }
}

export async function readNumber(page, number) {
  const seen = await page.locator("#bench").getAttribute("data-seen");
  await page.locator("#number").fill(number);
  await page.keyboard.press("Enter");
  await expect(page.locator("#bench")).not.toHaveAttribute("data-seen", seen);
}
