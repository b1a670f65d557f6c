// A running workshop: the published program on a database of its own, copied from a template with the demo world.
import { execFileSync, spawn } from "node:child_process";
import { randomBytes } from "node:crypto";
import { once } from "node:events";
import { createServer } from "node:net";
import path from "node:path";
import { fileURLToPath } from "node:url";

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), "../../..");
const app = path.join(root, ".zenrik/app");
const demo = path.join(root, ".zenrik/demo");
export const template = "browser_template";

const server = () => {
  const text = process.env.ZENRIK_TEST_CONNECTION;
  if (!text) throw new Error("These tests need a PostgreSQL of their own: run ./zenrik test browser.");
  return text;
};
const to = (connection, database) => connection.replace(/Database=[^;]*/, `Database=${database}`);
/** What the program signs in with: it owns nothing. */
export const connectionTo = (database) => to(process.env.ZENRIK_TEST_WEB_CONNECTION, database);

/** What the owner of the tables signs in with. */
export const ownerOf = (database) => to(server(), database);

/** Runs SQL on the server through psql; gives its output. */
export function sql(statement, database = "postgres") {
  const part = (name) => new RegExp(`${name}=([^;]*)`).exec(server())[1];
  return execFileSync("psql", ["-X", "-qtA", "-v", "ON_ERROR_STOP=1", "-c", statement], {
    env: {
      ...process.env,
      PGHOST: part("Host"),
      PGPORT: part("Port"),
      PGUSER: part("Username"),
      PGPASSWORD: part("Password"),
      PGDATABASE: database,
    },
    encoding: "utf8",
  }).trim();
}

/** Makes a workshop's tables; with the demo world, or empty with a first lead. Gives what it says. */
export function prepare(database, ...how) {
  return execFileSync("dotnet", ["Zenrik.Demo.dll", "prepare", ...how], {
    cwd: demo,
    encoding: "utf8",
    env: {
      ...process.env,
      ConnectionStrings__Workshop: connectionTo(database),
      ConnectionStrings__Owner: to(server(), database),
    },
  });
}

/** Stops or starts PostgreSQL itself. */
export const database = (what) => execFileSync("bash", ["tools/zenrik/database.sh", what], { cwd: root });

const freePort = () =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });

/** The invented organisation's identity provider, and what a workshop is told so that it believes it. */
export async function openProvider() {
  const url = `http://127.0.0.1:${await freePort()}`;
  const program = spawn("dotnet", ["Zenrik.Demo.dll", "provider", "--urls", url], { cwd: demo, stdio: "ignore" });
  for (let i = 0; i < 300 && !(await fetch(url).then((answer) => answer.ok, () => false)); i++) {
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return {
    settings: {
      OpenId__Authority: url,
      OpenId__ClientId: "zenrik",
      OpenId__Title: "the council's account",
      OpenId__Roles__lead: "it-leads",
      OpenId__Roles__technician: "it-bench",
    },
    close: () => program.kill("SIGKILL"),
  };
}

export async function openWorkshop({ empty = false, settings = {} } = {}) {
  const name = `b${randomBytes(8).toString("hex")}`;
  sql(empty ? `CREATE DATABASE ${name}` : `CREATE DATABASE ${name} TEMPLATE ${template}`);
  const firstPassword = empty ? /password "([^"]+)"/.exec(prepare(name, "--empty"))[1] : null;
  let port;
  let url;
  let program;

  /** Whether it came up; false when it ended by itself, as it does when its port was taken meanwhile. */
  async function comesUp() {
    let said = "";
    program = spawn("dotnet", ["Zenrik.Web.dll", "--urls", url], {
      cwd: app,
      env: { ...process.env, ...settings, ConnectionStrings__Workshop: connectionTo(name) },
      stdio: ["ignore", "pipe", "pipe"],
    });
    for (const stream of [program.stdout, program.stderr]) {
      stream.on("data", (text) => (said = (said + text).slice(-4000)));
    }
    const until = Date.now() + 60_000;
    while (Date.now() < until) {
      if (program.exitCode !== null) {
        if (said.includes("address already in use")) return false;
        throw new Error(`The program ended by itself. Its words:\n${said}`);
      }
      try {
        if ((await fetch(`${url}/readyz`, { signal: AbortSignal.timeout(10_000) })).ok) return true;
      } catch {
        // Not listening yet.
      }
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error(`The program did not start within a minute. Its words:\n${said}`);
  }

  do {
    port = await freePort();
    url = `http://127.0.0.1:${port}`;
  } while (!(await comesUp()));

  // Its suppliers and machines, as the start script runs them beside it.
  const demoUrl = `http://127.0.0.1:${await freePort()}`;
  const beside = spawn("dotnet", ["Zenrik.Demo.dll", "--urls", demoUrl, "--product", url], {
    cwd: demo,
    env: { ...process.env, ConnectionStrings__Workshop: connectionTo(name) },
    stdio: "ignore",
  });
  for (let i = 0; !empty && i < 300 && !(await fetch(demoUrl).then((answer) => answer.ok, () => false)); i++) {
    await new Promise((resolve) => setTimeout(resolve, 100));
  }

  return {
    url,
    demoUrl,
    /** The first lead's, in an empty workshop. */
    firstPassword,
    sql: (statement) => sql(statement, name),
    database: name,
    /** Ends the program as a power cut would, and starts it again at the same address. */
    async killAndRestart() {
      await this.away(() => {});
    },
    /** Does something while the program is down. */
    async away(work) {
      const ended = once(program, "exit");
      program.kill("SIGKILL");
      await ended;
      await work();
      if (!(await comesUp())) throw new Error(`Port ${port} was taken while the program was down.`);
    },
    close() {
      program.kill("SIGKILL");
      beside.kill("SIGKILL");
    },
  };
}
