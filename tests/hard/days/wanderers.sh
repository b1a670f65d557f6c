# Nothing breaks: seven people of all roles press whatever a page offers and type whatever comes to mind. Nobody is answered with
# an error, and no page shows a way that leads nowhere. WANDER_SECONDS and WANDER_SEED say how long and which chance.
day_wanderers() {
  own_database fsync=off synchronous_commit=off || return 1
  serve_one
  ready "${urls[0]}" || return 1
  node tests/hard/wander.mjs --for "${WANDER_SECONDS:-300}" --seed "${WANDER_SEED:-1}" --urls "${urls[0]}" --out "$WORLD.work.json" --words "$(ask "
    SELECT string_agg(w, '|') FROM (
      (SELECT tag AS w FROM units ORDER BY md5(tag) LIMIT 25) UNION ALL (SELECT code FROM items WHERE bin_kind = 'Shelf' ORDER BY md5(code) LIMIT 25)
      UNION ALL SELECT number FROM catalogue_numbers UNION ALL SELECT code FROM bins UNION ALL SELECT 'R-' || number FROM repairs WHERE closed_at IS NULL) w")" || return 1
  say "  $(figure "w.asked") requests, $(figure "w.sent") of them forms, $(figure "w.refused") refused; $(figure "w.reached.length") pages and handlers seen; $(figure "w.faults.length") faults"
  node -e "for (const f of JSON.parse(require('fs').readFileSync('$WORLD.work.json')).faults.slice(0, 8)) console.log('  ! ' + JSON.stringify(f))"
  [ "$(figure "w.faults.length")" = 0 ] && stock_is_whole
}
