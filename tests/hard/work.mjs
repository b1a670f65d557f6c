// People at work over HTTP, on several instances at once: notes on repairs and items carried from bin to bin. Whatever was
// answered must be in the book afterwards, once; what was not answered is sent again with the same number, to any instance.
//
//   node tests/hard/work.mjs --for SECONDS --people N --urls URL,URL… --repairs R-1,… --items IT-1,… --bins A,B --out FILE

import { writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { Visitor, one, quantile, wait } from "./visitor.mjs";

const { values: given } = parseArgs({
  options: Object.fromEntries(
    ["for", "people", "urls", "repairs", "items", "bins", "out"].map((name) => [name, { type: "string" }]),
  ),
});
const urls = given.urls.split(",");
/** Counted from when everybody is signed in. */
let end = Infinity;
/** How long signing in is tried. */
const DOOR = Date.now() + 60_000;
/** How long one act is tried before it counts as given up: longer than any trouble that is made here. */
const PATIENCE = 90_000;
const PAUSE = 200;

const done = [];
const refused = [];
const outages = [];
const latencies = new Map(urls.map((url) => [url, []]));
/** How often each instance gave no answer to an act, or an error. */
const unanswered = new Map(urls.map((url) => [url, 0]));
let gaveUp = 0;

class Person extends Visitor {
  constructor(name, first) {
    super(name);
    this.at = first;
  }

  async signIn() {
    for (;;) {
      try {
        return await this.signInAt(urls[this.at]);
      } catch (wrong) {
        if (Date.now() > DOOR) throw wrong;
        this.at = (this.at + 1) % urls.length;
        await wait(PAUSE);
      }
    }
  }

  /** Whether the page an act leads to says that it was refused; it is asked for until it comes. */
  async sees(path) {
    for (;;) {
      try {
        const page = await this.ask(new URL(path, urls[this.at]).href);
        if (page.status < 500) return page.text.includes('role="alert"');
      } catch {
        // It comes from another one.
      }
      this.at = (this.at + 1) % urls.length;
      await wait(PAUSE);
    }
  }

  /** One act, until it is answered: done, or refused with a sentence. */
  async act(path, fields, what) {
    const began = Date.now();
    // As behind a proxy where nothing sticks to an instance.
    this.at = Math.floor(Math.random() * urls.length);
    const form = { ...fields, request: crypto.randomUUID() };
    for (let tries = 1; ; tries++) {
      const url = urls[this.at];
      const start = performance.now();
      try {
        const answer = await this.ask(`${url}${path}`, {
          method: "POST",
          body: new URLSearchParams({ ...form, __RequestVerificationToken: this.token }),
        });
        if (answer.status < 500 && !answer.to?.includes("sign-in")) {
          latencies.get(url).push([Date.now(), performance.now() - start]);
          if (tries > 1) outages.push(Date.now() - began);
          // Either way a page is shown next; where it was refused, it says why.
          const refusal = answer.status !== 302 || (await this.sees(answer.to));
          if (refusal) refused.push({ what, status: answer.status });
          else done.push({ what, request: form.request, text: fields.text, tries });
          return;
        }
      } catch {
        // Not answered: done or not, the number tells.
      }
      unanswered.set(url, unanswered.get(url) + 1);
      if (Date.now() - began > PATIENCE) {
        gaveUp++;
        return;
      }
      this.at = (this.at + 1) % urls.length;
      await wait(PAUSE);
    }
  }
}

const [repairs, items, bins] = [given.repairs, given.items, given.bins].map((list) => list.split(","));
const names = ["aled", "bo", "ines", "tove", "odd", "mara"];

async function work(me, number) {
  for (let n = 0; Date.now() < end; n++) {
    if (n % 3 < 2) await me.act(`/repairs/${one(repairs)}?handler=Note`, { kind: "Said", text: `hard ${number}-${n}-${crypto.randomUUID()}` }, "note");
    else await me.act(`/stores/items/${one(items)}?handler=Move`, { bin: one(bins) }, "move");
  }
}

const people = Array.from({ length: Number(given.people) }, (_, number) => new Person(names[number % names.length], number % urls.length));
await Promise.all(people.map((person) => person.signIn()));
end = Date.now() + 1000 * Number(given.for);
writeFileSync(`${given.out}.begun`, "");
await Promise.all(people.map(work));
writeFileSync(
  given.out,
  JSON.stringify({
    done,
    refused: refused.length,
    gaveUp,
    longestOutage: Math.max(0, ...outages),
    byInstance: Object.fromEntries(
      [...latencies].map(([url, all]) => {
        const ms = all.map(([, t]) => t);
        return [url, { answers: ms.length, unanswered: unanswered.get(url), median: quantile(0.5, ms), p95: quantile(0.95, ms), most: Math.max(0, ...ms) }];
      }),
    ),
  }),
);
