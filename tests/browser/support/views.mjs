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
  "bench-without-map": { address: "/bench/R-1020" },
  finished: { address: "/repairs/R-1002" },
  maps: { address: "/maps" },
  map: { address: "/maps/sandpiper-14?goal=replace:board&step=36" },
  house: { address: "/house" },
  mat: { address: "/maps/sandpiper-14/mat?goal=replace:board", before: (page) => page.setViewportSize({ width: 860, height: 1180 }) },
  fleet: { address: "/fleet?search=tidewell" },
  stores: { address: "/stores" },
  count: {
    address: "/stores/bins/A-01",
    before: async (page) => {
      await page.getByRole("button", { name: /ounting|Count this bin/ }).click();
      const label = await page.locator("tr .code").first().textContent();
      await page.locator("#scanned").fill(label);
      await page.keyboard.press("Enter");
      await page.getByText("here ✓").first().waitFor();
    },
  },
  labels: { address: "/labels?kind=unit&codes=SK-00417,SK-00012,SK-00323,SK-00302,SK-00022,SK-00023,SK-00026" },
};
