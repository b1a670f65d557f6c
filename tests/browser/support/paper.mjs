// What a page is on paper: its PDF, drawn at 300 dots an inch.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { PNG } from "pngjs";

const dpi = 300;

/** The first sheet as a picture, and what turns its pixels into millimetres (an inch is 25.4 mm). */
export async function onPaper(page) {
  const pdf = await page.pdf({ preferCSSPageSize: true, printBackground: true });
  const folder = mkdtempSync(path.join(tmpdir(), "paper-"));
  try {
    writeFileSync(path.join(folder, "sheet.pdf"), pdf);
    execFileSync("pdftoppm", ["-r", `${dpi}`, "-png", "-f", "1", "-l", "1", "-singlefile", "sheet.pdf", "sheet"], { cwd: folder });
    const { data, width, height } = PNG.sync.read(readFileSync(path.join(folder, "sheet.png")));
    return { data, width, height, mm: 25.4 / dpi };
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** A part of a picture, given in millimetres. */
export function cut({ data, width, mm }, left, top, wide, high) {
  const [x, y, w, h] = [left, top, wide, high].map((side) => Math.round(side / mm));
  const part = new Uint8ClampedArray(w * h * 4);
  for (let row = 0; row < h; row++) part.set(data.subarray(((y + row) * width + x) * 4, ((y + row) * width + x + w) * 4), row * w * 4);
  return { data: part, width: w, height: h, mm };
}
