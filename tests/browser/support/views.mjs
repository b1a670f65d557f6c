/** The main views of the demo world, by the name of their picture. */
export const views = {
  counter: { address: "/" },
  passport: { address: "/fleet/SK-00417" },
  repair: { address: "/repairs/R-1005" },
  bench: { address: "/bench/R-1004" },
  history: { address: "/history" },
};
