// Somebody with a browser, as far as a server sees it: cookies, the token of a form, a password.

export const tokenOf = (html) => html.match(/name="__RequestVerificationToken"[^>]*value="([^"]+)"/)?.[1] ?? "";

export const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

export const one = (list) => list[Math.floor(Math.random() * list.length)];

/** The value of which a share of the list is smaller or the same; 0 of none. */
export const quantile = (share, list) =>
  list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? 0;

export class Visitor {
  constructor(name) {
    Object.assign(this, { name, cookies: new Map(), token: "" });
  }

  get cookie() {
    return [...this.cookies].map(([key, value]) => `${key}=${value}`).join("; ");
  }

  async ask(url, options = {}) {
    const response = await fetch(url, {
      redirect: "manual",
      signal: AbortSignal.timeout(20_000),
      ...options,
      headers: { ...options.headers, cookie: this.cookie },
    });
    for (const line of response.headers.getSetCookie()) {
      const [, key, value] = line.match(/^([^=]+)=([^;]*)/);
      this.cookies.set(key, value);
    }
    return { status: response.status, text: await response.text(), to: response.headers.get("location") };
  }

  async signInAt(base) {
    const page = await this.ask(`${base}/sign-in`);
    const form = new URLSearchParams({ name: this.name, password: "harbour-workshop", __RequestVerificationToken: tokenOf(page.text) });
    const answer = await this.ask(`${base}/sign-in`, { method: "POST", body: form });
    if (answer.status !== 302) throw new Error(`sign-in answered ${answer.status}`);
    this.token = tokenOf((await this.ask(`${base}/account`)).text);
  }
}
