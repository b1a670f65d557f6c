// A whole workshop at work over HTTP, with a pause for thought before each page: technicians who look a machine up, take it in,
// clean it at the bench act by act and close its repair; storekeepers who carry items from bin to bin; and open streams of
// news that come and go. Somebody asks for a page with nothing on it meanwhile, which everything is measured against.
//
//   node tests/hard/crowd.mjs --for SECONDS --technicians N --storekeepers N --streams N --think MS --urls URL,URL…
//     --units TAG,… --items IT-1,… --bins A,B --out FILE

import { readFileSync, writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { Visitor, one, quantile, wait } from "./visitor.mjs";

const { values: given } = parseArgs({
  options: Object.fromEntries(
    ["for", "technicians", "storekeepers", "streams", "think", "urls", "units", "items", "bins", "out"].map((name) => [name, { type: "string" }]),
  ),
});
const urls = given.urls.split(",");
const [items, bins] = [given.items, given.bins].map((list) => list.split(","));
// By a file: thousands of tags are more than an argument holds.
const units = readFileSync(given.units, "utf8").trim().split(",");
const seconds = Number(given.for);
const NOTHING = "nothing (the empty page)";

const done = [];
const errors = [];
const refused = [];
const jobs = { taken: 0, closed: 0 };
const streams = { opened: 0, dropped: 0, failed: 0, open: 0, told: 0 };
/** By what was asked for: when it was answered, and after how many milliseconds. */
const latencies = new Map();
/** Repairs that are on a bench now. */
const onBench = new Set();
let [warm, end] = [Infinity, Infinity];
const over = () => Date.now() > end;

class Worker extends Visitor {
  constructor(name, number) {
    super(name);
    this.base = urls[number % urls.length];
  }

  think = () => wait(Number(given.think) * (0.5 + Math.random()));

  /** A page or an act, timed; what is no answer counts as an error and ends what was being done. */
  async see(what, path, options) {
    const start = performance.now();
    let answer;
    try {
      answer = await this.ask(new URL(path, this.base).href, options);
    } catch (wrong) {
      answer = { status: 0, text: String(wrong.cause ?? wrong) };
    }
    if (!latencies.has(what)) latencies.set(what, []);
    // What has just begun compiles for a while: the first tenth is not timed.
    if (Date.now() > warm) latencies.get(what).push([Date.now(), performance.now() - start]);
    if (answer.status === 0 || (answer.status >= 400 && what !== NOTHING && !answer.text.includes('role="alert"'))) {
      errors.push(`${what} ${path}: ${answer.status} ${answer.text.slice(0, 100)}`);
      throw new Stopped();
    }
    return answer;
  }

  /** A form sent, and the page it leads to. */
  async send(what, path, fields) {
    const body = new URLSearchParams(fields);
    body.set("__RequestVerificationToken", this.token);
    const answer = await this.see(what, path, { method: "POST", body });
    if (answer.status !== 302) return answer;
    const page = await this.see(what === "act" ? "bench" : "page after", answer.to);
    const said = page.text.match(/role="alert"[^>]*>([\s\S]*?)<\/(?:p|div)>/)?.[1].replace(/<[^>]+>/g, "").trim();
    if (said) refused.push(`${what}: ${said}`);
    else if (fields.request ?? fields.Request) done.push({ what, request: fields.request ?? fields.Request, text: fields.text });
    return page;
  }
}

/** What could not be gone on with; it is counted where it happened. */
class Stopped extends Error {}

/** The form behind the button that is next at the bench: where it goes and what it sends. */
function next(html) {
  const form = html.match(/<form(?:(?!<\/form>)[\s\S])*id="done"[\s\S]*?<\/form>/)?.[0];
  if (!form) return null;
  const fields = {};
  for (const [input] of form.matchAll(/<input[^>]*>/g)) {
    const name = input.match(/name="([^"]+)"/)?.[1];
    if (name && !/type="radio"/.test(input)) fields[name] = input.match(/value="([^"]*)"/)?.[1] ?? "";
  }
  delete fields.__RequestVerificationToken;
  // A number is read off the part: it is what the passport says, or anything where that says nothing.
  if ("Text" in fields) fields.Text ||= form.match(/<b class="code">([^<]+)</)?.[1] ?? "TW-9Z9Z-00001";
  return { to: form.match(/action="([^"]+)"/)[1].replaceAll("&amp;", "&"), fields };
}

async function technician(me) {
  const tag = units.splice(Math.floor(Math.random() * units.length), 1)[0];
  await me.see("counter", "/");
  await me.think();
  await me.see("search", `/fleet?search=${tag.slice(0, -1)}`);
  await me.think();
  await me.see("passport", `/fleet/${tag}`);
  await me.think();
  const page = await me.send("take in", `/counter/take-in/${tag}`, { purpose: "Cleaning", priority: "Normal" });
  const code = page.text.match(/\bR-\d+/)?.[0];
  if (!code) return;
  jobs.taken++;
  await me.think();
  await me.see("fit", `/repairs/${code}/fit`);
  await me.think();
  await me.send("note", `/repairs/${code}?handler=Note`, { kind: "Said", text: `hard ${crypto.randomUUID()}`, request: crypto.randomUUID() });
  await me.think();
  let bench = await me.send("begin", `/repairs/${code}?handler=Start`, {});
  onBench.add(code);
  for (let acts = 0; acts < 150 && !over(); acts++) {
    await me.think();
    const form = next(bench.text);
    if (!form) break;
    bench = await me.send(form.fields.Do ? "act" : "close", form.to, form.fields);
    if (!form.fields.Do) {
      jobs.closed++;
      break;
    }
  }
  onBench.delete(code);
}

async function storekeeper(me) {
  const item = one(items);
  await me.see("stores", "/stores");
  await me.think();
  await me.see("item", `/stores/items/${item}`);
  await me.think();
  await me.send("move", `/stores/items/${item}?handler=Move`, { bin: one(bins), request: crypto.randomUUID() });
  await me.think();
}

/** Asks for a page with nothing on it. */
async function nobody(me) {
  await me.see(NOTHING, "/not-allowed");
  await wait(500);
}

async function forever(me, what) {
  while (!over()) {
    try {
      await what(me);
    } catch (wrong) {
      if (!(wrong instanceof Stopped)) throw wrong;
      await wait(1000);
    }
  }
}

/** A bench that is looked at for half a minute or so, and left without a word. */
async function stream(me) {
  await wait(Math.random() * 5000);
  while (!over()) {
    const code = one([...onBench]);
    if (!code) {
      await wait(500);
      continue;
    }
    const left = new AbortController();
    const timer = setTimeout(() => left.abort(), Math.min(60_000 * Math.random(), end - Date.now()));
    try {
      const answer = await fetch(`${me.base}/bench/${code}/news`, { headers: { cookie: me.cookie }, signal: left.signal });
      if (!answer.ok) throw new Error(`${answer.status}`);
      streams.opened++;
      streams.open++;
      streams.most = Math.max(streams.most ?? 0, streams.open);
      try {
        for await (const chunk of answer.body) streams.told += new TextDecoder().decode(chunk).split("data:").length - 1;
      } finally {
        streams.open--;
      }
    } catch {
      if (left.signal.aborted) streams.dropped++;
      else {
        streams.failed++;
        await wait(500);
      }
    }
    clearTimeout(timer);
  }
}

const names = ["aled", "bo", "ines", "tove"];
const people = (count, of) => Array.from({ length: count }, (_, number) => new Worker(of(number), number));
const technicians = people(Number(given.technicians), (n) => names[n % names.length]);
const storekeepers = people(Number(given.storekeepers), () => "odd");
const idle = new Worker("mara", 0);
for (const me of [...technicians, ...storekeepers, idle]) await me.signInAt(me.base);
const began = Date.now();
warm = began + 100 * seconds;
end = began + 1000 * seconds;
writeFileSync(`${given.out}.begun`, "");
await Promise.all([
  ...technicians.map((me) => forever(me, technician)),
  ...storekeepers.map((me) => forever(me, storekeeper)),
  forever(idle, nobody),
  ...Array.from({ length: Number(given.streams) }, (_, n) => stream(technicians[n % technicians.length])),
]);
const empty = quantile(0.95, latencies.get(NOTHING).map(([, ms]) => ms));
const half = (warm + end) / 2;
writeFileSync(
  given.out,
  JSON.stringify({
    done,
    refused,
    errors,
    jobs,
    streams,
    gaveUp: 0,
    longestOutage: 0,
    answers: [...latencies.values()].reduce((sum, all) => sum + all.length, 0),
    pages: [...latencies].map(([what, all]) => {
      const [first, second] = [true, false].map((early) => all.filter(([at]) => at < half === early).map(([, ms]) => ms));
      const ms = all.map(([, t]) => t);
      return {
        what,
        asked: ms.length,
        median: quantile(0.5, ms),
        p95: quantile(0.95, ms),
        toEmpty: quantile(0.95, ms) / empty,
        halves: [first, second].map((h) => quantile(0.5, h)),
      };
    }),
  }),
);
