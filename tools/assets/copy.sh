#!/usr/bin/env bash
# Copies the front-end files and their licences from the npm packages named in package.json, in the versions of the
# lock file, to wwwroot/lib; of Bulma the parts that bulma.scss names. Run it after changing a version; its result is
# committed, so starting needs no Node.js.
set -euo pipefail
cd "$(dirname "$0")"
npm ci --ignore-scripts --no-fund --no-audit
lib=../../src/Zenrik.Web/wwwroot/lib
rm -rf "$lib"
mkdir -p "$lib"/{htmx,bulma,fonts,jsqr}
cp node_modules/htmx.org/dist/htmx.min.js node_modules/htmx.org/LICENSE "$lib/htmx/"
cp node_modules/jsqr/LICENSE "$lib/jsqr/"
node_modules/.bin/terser node_modules/jsqr/dist/jsQR.js --compress --mangle --output "$lib/jsqr/jsQR.min.js"
node_modules/.bin/sass --quiet-deps --load-path=node_modules --style=compressed --no-source-map bulma.scss "$lib/bulma/bulma.min.css"
cp node_modules/bulma/LICENSE "$lib/bulma/"
for face in next mono; do
  package=node_modules/@fontsource/atkinson-hyperlegible-$face
  cp "$package/LICENSE" "$lib/fonts/LICENSE-$face"
  for weight in 400 600; do
    cp "$package/files/atkinson-hyperlegible-$face-latin-$weight-normal.woff2" "$lib/fonts/"
  done
done
