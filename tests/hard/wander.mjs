// People who press whatever a page offers and type whatever comes to mind: right, wrong and absurd, in every room. What no page
// may answer is an error of the program; what no page may show is a way that leads nowhere.
import { appendFileSync, writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { Visitor } from "./visitor.mjs";

const { values: asked } = parseArgs({
  options: {
    for: { type: "string" },
    urls: { type: "string" },
    seed: { type: "string", default: "1" },
    words: { type: "string" },
    out: { type: "string" },
  },
});
const urls = asked.urls.split(",");
const until = Date.now() + Number(asked.for) * 1000;
const words = asked.words.split("|").filter(Boolean);

/** Numbers by chance that a seed repeats (mulberry32). */
function chance(seed) {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const absurd = [
  "", " ", "0", "-1", "1e9", "99999999999999999999", "1,5", "1.5", "NaN", "null", "undefined", "\u0000", "a\u0000b", "\ud800", "'", "\"", "%",
  "%s", "{0}", "\\", "../../etc/passwd", "<script>alert(1)</script>", "]]>", "Å̊ ﬁ ß 漢字 🙂", "\u202Eevil", "\uFEFF", "x".repeat(5000), "12 mm",
  "2026-13-45", "0001-01-01", "9999-12-31", "00000000-0000-0000-0000-000000000000", "true", "on", "[]", "{}", "[)>\u001e06\u001d1P\u001dS\u001e\u0004",
];

const entities = { amp: "&", quot: '"', lt: "<", gt: ">", "#39": "'", nbsp: "\u00a0" };
const plain = (text) =>
  text.replace(/&(#x[0-9a-f]+|#\d+|\w+);/gi, (whole, name) => {
    if (entities[name]) return entities[name];
    if (name[0] !== "#") return whole;
    return String.fromCodePoint(/^#x/i.test(name) ? parseInt(name.slice(2), 16) : Number(name.slice(1)));
  });

function attributes(text) {
  const found = {};
  for (const [, name, , quoted, single] of text.matchAll(/([\w:-]+)(\s*=\s*(?:"([^"]*)"|'([^']*)'))?/g)) found[name.toLowerCase()] = plain(quoted ?? single ?? "");
  return found;
}

const controls = (html) => [
  ...[...html.matchAll(/<input\b([^>]*)>/g)].map((m) => ({ tag: "input", ...attributes(m[1]) })),
  ...[...html.matchAll(/<button\b([^>]*)>/g)].map((m) => ({ tag: "button", ...attributes(m[1]) })),
  ...[...html.matchAll(/<textarea\b([^>]*)>([\s\S]*?)<\/textarea>/g)].map((m) => ({ tag: "textarea", ...attributes(m[1]), value: plain(m[2]) })),
  ...[...html.matchAll(/<select\b([^>]*)>([\s\S]*?)<\/select>/g)].map((m) => ({
    tag: "select",
    ...attributes(m[1]),
    options: [...m[2].matchAll(/<option\b([^>]*)>([^<]*)/g)].map((o) => attributes(o[1]).value ?? plain(o[2]).trim()),
  })),
];

/** The forms of a page that change no wanderer's own way in. */
function formsOf(html, at) {
  return [...html.matchAll(/<form\b([^>]*)>([\s\S]*?)<\/form>/g)]
    .map(([, open, inside]) => {
      const form = attributes(open);
      const own = controls(inside).filter((c) => c.form === undefined);
      const others = form.id ? controls(html).filter((c) => c.form === form.id) : [];
      return { method: (form.method ?? "get").toUpperCase(), action: form.action || form["hx-post"] || at, files: form.enctype === "multipart/form-data", fields: [...own, ...others] };
    })
    .filter((f) => f.method !== "DIALOG" && f.action.startsWith("/") && !/^\/(sign|account|house\/people)/.test(f.action));
}

const linksOf = (html) =>
  [...html.matchAll(/<a\b([^>]*)>/g)]
    .map((m) => attributes(m[1]).href ?? "")
    .filter((to) => to.startsWith("/") && !/^\/(sign|lib|openapi)/.test(to))
    .map((to) => to.split("#")[0]);

class Wanderer extends Visitor {
  constructor(name, seed) {
    super(name);
    this.chance = chance(seed);
    this.faults = [];
    this.asked = this.sent = this.refused = 0;
    this.reached = new Set();
  }

  one(list) {
    return list[Math.floor(this.chance() * list.length)];
  }

  /** What somebody types into a field: mostly what belongs there. */
  typed(field) {
    const roll = this.chance();
    if (roll < 0.12) return this.one(absurd);
    if (field.type === "number") return roll < 0.2 ? "-3" : String(Math.floor(this.chance() * Number(field.max || 20)));
    if (field.type === "date") return new Date(Date.now() + (this.chance() - 0.3) * 60 * 86_400_000).toISOString().slice(0, 10);
    if (field.type === "time") return "09:30";
    if (field.value && roll < 0.6) return field.value;
    if (roll < 0.75 && this.codes.length > 0) return this.one(this.codes);
    return this.one(roll < 0.85 ? words : ["does not hold", "charge stands still", "as it was", "12", "lid", "3"]);
  }

  fill(form) {
    const body = [];
    const radios = new Map();
    for (const field of form.fields) {
      if (!field.name || field.disabled !== undefined) continue;
      if (field.type === "radio") radios.set(field.name, [...(radios.get(field.name) ?? []), field.value ?? "on"]);
      else if (field.type === "checkbox") {
        if (this.chance() < 0.6) body.push([field.name, field.value ?? "on"]);
      } else if (field.type === "hidden") body.push([field.name, this.chance() < 0.02 && !field.name.startsWith("__") ? this.one(absurd) : (field.value ?? "")]);
      else if (field.tag === "select") {
        if (field.options.length > 0) body.push([field.name, this.chance() < 0.04 ? this.one(absurd) : this.one(field.options)]);
      } else if (field.type === "file") body.push([field.name, new Blob([this.one(["tag,model\nX,Y", "{}", "\u0089PNG", ""])]), this.one(["a.csv", "b.json", "c.png"])]);
      else if (field.tag !== "button") body.push([field.name, this.typed(field)]);
    }
    for (const [name, values] of radios) if (this.chance() < 0.95) body.push([name, this.one(values)]);
    const pressed = this.one(form.fields.filter((f) => f.tag === "button" && f.type !== "button"));
    if (pressed?.name) body.push([pressed.name, pressed.value ?? ""]);
    return [pressed?.formaction ?? form.action, body];
  }

  fault(what, answer, body) {
    const said = (answer.text ?? "").replace(/<[^>]+>/g, " ").replace(/\s+/g, " ").slice(0, 160);
    this.faults.push({ who: this.name, what, status: answer.status, body: body?.map(([k, v]) => [k, String(v).slice(0, 80)]), said });
    appendFileSync(`${asked.out}.faults`, `${JSON.stringify(this.faults.at(-1))}\n`);
  }

  async step() {
    const { address, html } = this;
    this.codes = [...html.matchAll(/class="code">([^<]+)</g)].map((m) => plain(m[1]).trim());
    const forms = formsOf(html, address);
    const links = linksOf(html);
    const roll = this.chance();
    if (roll < 0.05 || (forms.length === 0 && links.length === 0)) return this.go(this.one(["/", "/bench", "/stores", "/fleet", "/maps", "/outlook", "/history", "/practice"]));
    if (forms.length === 0 || roll < 0.4) return this.go(links.length > 0 ? this.one(links) : "/", address);
    // The scan line stands on every page, and at a bench the act comes first.
    const [scan, ...own] = forms;
    const form = own.length === 0 || this.chance() < 0.1 ? scan : /^\/bench\/./.test(address) && this.chance() < 0.6 ? own[0] : this.one(own);
    const [action, body] = this.fill(form);
    if (form.method === "GET") return this.go(`${action.split("?")[0]}?${new URLSearchParams(body.map(([k, v]) => [k, String(v)]))}`, address);
    this.sent++;
    let data;
    if (form.files) {
      data = new FormData();
      for (const [name, value, file] of body) file ? data.append(name, value, file) : data.append(name, value);
    } else data = new URLSearchParams(body.map(([k, v]) => [k, String(v)]));
    const answer = await this.ask(this.url + action, { method: "POST", body: data, headers: this.chance() < 0.2 ? { "HX-Request": "true" } : {} });
    this.asked++;
    this.reached.add(`POST ${pattern(action)}`);
    if (answer.status >= 500) this.fault(`POST ${action} on ${address}`, answer, body);
    if (answer.status >= 400) this.refused++;
    if (answer.to) return this.go(answer.to.replace(this.url, ""));
    if (answer.status === 200 && /<main/.test(answer.text)) return void Object.assign(this, { html: answer.text });
    return this.go(address);
  }

  /** @param from The page that shows the way there. */
  async go(to, from) {
    if (/^\/(sign|$)/.test(to) && to !== "/") {
      await this.signInAt(this.url);
      to = "/";
    }
    const answer = await this.ask(this.url + to);
    this.asked++;
    this.reached.add(`GET ${pattern(to)}`);
    if (answer.status >= 500) this.fault(`GET ${to}`, answer);
    // A page that was there a moment ago may be gone; a way nobody has trodden yet that is shown and is none is a fault.
    if (answer.status === 404 && from && !to.startsWith("/scan")) this.fault(`GET ${to} from ${from}`, answer);
    if (answer.to) return this.go(answer.to.replace(this.url, ""));
    if (/<main/.test(answer.text)) Object.assign(this, { address: to, html: answer.text });
    else if (!this.html) await this.go("/");
  }

  async wander() {
    this.url = urls[0];
    await this.signInAt(this.url);
    await this.go("/");
    while (Date.now() < until) {
      try {
        await this.step();
      } catch (error) {
        this.fault(`at ${this.address}`, { status: 0, text: error.stack });
        await this.go("/");
      }
    }
  }
}

/** An address without what names one thing of many. */
const pattern = (address) =>
  address
    .split("?")[0]
    .split("/")
    .map((part) => (/\d/.test(part) || /^[A-Z]{1,3}-/.test(part) ? "…" : part))
    .join("/") + (/handler=(\w+)/.exec(address)?.[0] ? `?${/handler=(\w+)/.exec(address)[0]}` : "");

const wanderers = ["mara", "odd", "aled", "bo", "ines", "tove", "desk"].map((name, i) => new Wanderer(name, Number(asked.seed) * 100 + i));
await Promise.all(wanderers.map((w) => w.wander()));
const sum = (of) => wanderers.reduce((all, w) => all + of(w), 0);
writeFileSync(
  asked.out,
  JSON.stringify({
    asked: sum((w) => w.asked),
    sent: sum((w) => w.sent),
    refused: sum((w) => w.refused),
    faults: wanderers.flatMap((w) => w.faults),
    reached: [...new Set(wanderers.flatMap((w) => [...w.reached]))].sort(),
  }),
);
