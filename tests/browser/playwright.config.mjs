import { existsSync } from "node:fs";
import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: ".",
  globalSetup: "./support/template.mjs",
  workers: 2,
  fullyParallel: true,
  // The second project stops the database for a while, so it comes after everything else.
  projects: [
    { name: "rooms", testIgnore: "outage.spec.mjs" },
    { name: "outage", testMatch: "outage.spec.mjs", dependencies: ["rooms"] },
  ],
  // A busy machine may be late once; what fails twice fails. A test tried again gets a workshop of its own.
  retries: 1,
  timeout: 240_000,
  expect: { timeout: 20_000 },
  forbidOnly: true,
  reporter: [["list"], ["json"]],
  use: {
    viewport: { width: 1280, height: 800 },
    screenshot: "off",
    launchOptions: {
      executablePath: ["/usr/bin/chromium-headless-shell", "/usr/bin/chromium"].find(existsSync),
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        // The shell sets letters on whole pixels otherwise, which no window does.
        "--font-render-hinting=none",
      ],
    },
  },
});
