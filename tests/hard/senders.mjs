// Those who wish the programs ill, or have very bad lines: connections that send nothing, a header byte by byte, a body byte
// by byte, or far more headers than anybody needs.
//
//   node tests/hard/senders.mjs --url URL --each N --for SECONDS --out FILE
//
// Says for each kind how many connections the program itself had closed by the end, and how many floods it refused.

import { connect } from "node:net";
import { writeFileSync } from "node:fs";
import { parseArgs } from "node:util";

const { values: given } = parseArgs({
  options: Object.fromEntries(["url", "each", "for", "out"].map((name) => [name, { type: "string" }])),
});
const { hostname, port } = new URL(given.url);
const end = Date.now() + 1000 * Number(given.for);

const kinds = {
  /** A request that never ends its headers. */
  header: (socket) => drip(socket, "GET / HTTP/1.1\r\nHost: zenrik\r\nX-Slow: "),
  /** A form that is announced and then trickles. */
  body: (socket) => drip(socket, "POST /sign-in HTTP/1.1\r\nHost: zenrik\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 100000\r\n\r\n"),
  /** A thousand headers, and one of a megabyte. */
  many: (socket) => socket.write(`GET / HTTP/1.1\r\nHost: zenrik\r\n${Array.from({ length: 1000 }, (_, i) => `X-${i}: 1\r\n`).join("")}\r\n`),
  long: (socket) => socket.write(`GET / HTTP/1.1\r\nHost: zenrik\r\nX-Long: ${"a".repeat(1 << 20)}\r\n\r\n`),
};

function drip(socket, beginning) {
  socket.write(beginning);
  const timer = setInterval(() => (socket.destroyed ? clearInterval(timer) : socket.write("a")), 1000);
}

const seen = Object.fromEntries(Object.keys(kinds).map((kind) => [kind, { opened: 0, closed: 0, refused: 0, served: 0 }]));
for (const [kind, send] of Object.entries(kinds)) {
  for (let i = 0; i < Number(given.each); i++) {
    const socket = connect({ host: hostname, port: Number(port) });
    const tally = seen[kind];
    let answer = "";
    socket.on("connect", () => { tally.opened++; send(socket); });
    socket.on("data", (data) => (answer += data));
    socket.on("error", () => {});
    socket.on("close", () => {
      tally.closed++;
      if (/^HTTP\/1\.1 4(08|31|13|00)/.test(answer)) tally.refused++;
      else if (/^HTTP\/1\.1 [235]/.test(answer)) tally.served++;
    });
  }
}

await new Promise((resolve) => setTimeout(resolve, end - Date.now()));
writeFileSync(given.out, JSON.stringify(seen));
process.exit(0);
