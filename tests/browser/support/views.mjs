/** The main views of the demo world, by the name of their picture. */
export const views = {
  counter: { address: "/" },
  passport: { address: "/fleet/SK-00417" },
  repair: { address: "/repairs/R-1005" },
  bench: { address: "/bench/R-1004" },
  history: { address: "/history" },
  maps: { address: "/maps" },
  map: { address: "/maps/sandpiper-14?goal=replace:board&step=36" },
  "map-deck-first": { address: "/maps/thimble-11-r?goal=replace:board&failed=touchpad&step=12" },
  house: { address: "/house" },
  mat: { address: "/maps/sandpiper-14/mat?goal=replace:board", before: (page) => page.setViewportSize({ width: 860, height: 1180 }) },
  sheet: { address: "/repairs/R-1005/sheet" },
};
