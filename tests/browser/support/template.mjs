import { prepare, sql, template } from "./workshop.mjs";

/** Makes the demo world once; each test copies it. */
export default function makeTemplate() {
  sql(`SET client_min_messages = warning; DROP DATABASE IF EXISTS ${template}`);
  sql(`CREATE DATABASE ${template}`);
  prepare(template);
}
