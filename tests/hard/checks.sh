# What must hold after every day.

# figure PATH: of what the people at work saw, in JavaScript's words.
figure() { node -e "const w = JSON.parse(require('fs').readFileSync('$WORLD.work.json')); console.log($1)"; }

# Every act that was answered as done is in the book once; none is there twice; and nobody gave up.
nothing_lost() {
  local answered unique
  answered=$(figure "w.done.length")
  [ "$answered" -gt 0 ] || { say "  nobody got anything done"; return 1; }
  node -e "const w = JSON.parse(require('fs').readFileSync('$WORLD.work.json'));
    process.stdout.write(w.done.map((d) => d.request).join('\n') + '\n')" >"$WORLD.requests"
  # A line of a bench's ledger carries its number itself.
  unique=$(ask "SELECT count(*) FROM (SELECT id FROM done_requests UNION SELECT request_id FROM bench_entries) r
    WHERE id = ANY ('{$(paste -sd, "$WORLD.requests")}'::uuid[])")
  local twice lost_notes
  twice=$(ask "SELECT count(*) FROM (SELECT text FROM repair_notes WHERE text LIKE 'hard %' GROUP BY text HAVING count(*) > 1) t")
  node -e "const w = JSON.parse(require('fs').readFileSync('$WORLD.work.json'));
    process.stdout.write(w.done.filter((d) => d.text).map((d) => d.text).join('\n') + '\n')" >"$WORLD.notes"
  lost_notes=$(ask "SELECT count(*) FROM unnest('{$(sed 's/.*/"&"/' "$WORLD.notes" | paste -sd,)}'::text[]) AS n(text)
    WHERE NOT EXISTS (SELECT FROM repair_notes r WHERE r.text = n.text)")
  say "  $answered acts answered, $((answered - unique)) of them lost; $lost_notes notes missing, $twice twice; $(figure "w.gaveUp") given up; longest until answered $(figure "(w.longestOutage / 1000).toFixed(1)") s"
  [ "$answered" = "$unique" ] && [ "$twice" = 0 ] && [ "$lost_notes" = 0 ] && [ "$(figure "w.gaveUp")" = 0 ]
}

# Every item is where its last movement took it.
stock_is_whole() {
  local astray
  astray=$(ask "SELECT count(*) FROM items i
    JOIN LATERAL (SELECT to_bin_id, to_unit_id FROM movements m WHERE m.item_id = i.id ORDER BY m.id DESC LIMIT 1) m ON true
    WHERE i.bin_id IS DISTINCT FROM m.to_bin_id OR i.unit_id IS DISTINCT FROM m.to_unit_id")
  say "  $astray items elsewhere than their last movement says"
  [ "$astray" = 0 ]
}
