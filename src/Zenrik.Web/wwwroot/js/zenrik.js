// What every page needs; each room brings its own besides.

import "./scan.js";
import "./lists.js";
import "./sending.js";
import "./typed.js";
