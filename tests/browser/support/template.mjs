import { prepare, sql, template } from "./workshop.mjs";

/** Makes the demo world once; each worker copies it. */
export default function makeTemplate() {
  sql(`CREATE DATABASE ${template}`);
  prepare(template);
}
