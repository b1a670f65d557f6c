// What every page needs; each room brings its own besides.

import "./pressing.js";
import "./scan.js";
import "./lists.js";
import "./sending.js";
import "./typed.js";
