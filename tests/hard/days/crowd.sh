# Nothing breaks: a whole workshop works for ten minutes on a large fleet, two programs, hundreds of open streams. Nobody sees an
# error; what the programs hold, memory and connections, has an end. CROWD_FLEET, CROWD_SECONDS and CROWD_THINK (ms before each
# page) say how large, how long and how fast.
day_crowd() {
  local pid
  FLEET=${CROWD_FLEET:-100000}
  : "${CROWD_SECONDS:=600}" "${CROWD_THINK:=5000}"
  own_database max_connections=200 shared_buffers=1GB || return 1
  ask "ANALYZE" >/dev/null
  ask "SELECT string_agg(tag, ',') FROM (SELECT u.tag FROM units u WHERE u.state = 'InUse' AND NOT u.in_loan_pool
    AND EXISTS (SELECT FROM service_map_revisions m WHERE m.model_code = u.model_code AND NOT m.is_draft)
    AND NOT EXISTS (SELECT FROM repairs r WHERE r.unit_id = u.id) ORDER BY md5(u.tag) LIMIT 3000) t" >"$WORLD.units"
  serve_one
  serve_one
  say "  $(ask "SELECT count(*) FROM units") units"
  node tests/hard/crowd.mjs --for "$CROWD_SECONDS" --technicians 50 --storekeepers 10 --streams 500 --think "$CROWD_THINK" \
    --urls "$(IFS=,; echo "${urls[*]}")" --units "$WORLD.units" --items "$ITEMS" --bins "$BINS" --out "$WORLD.work.json" &
  WORKING=$!
  until [ -f "$WORLD.work.json.begun" ] || ! kill -0 "$WORKING" 2>/dev/null; do sleep 0.2; done
  while kill -0 "$WORKING" 2>/dev/null; do
    # Megabytes of both programs together, and connections the database has of them.
    echo "$(for pid in "${pids[@]}"; do cat "/proc/$pid/status"; done | awk '/^VmRSS/ { sum += $2 } END { print int(sum / 1024) }') $(ask "SELECT count(*) FROM pg_stat_activity WHERE datname = 'zenrik' AND pid <> pg_backend_pid()")" >>"$WORLD.held"
    sleep 5
  done
  worked || return 1
  node -e "
    const w = JSON.parse(require('fs').readFileSync('$WORLD.work.json'));
    const s = w.streams;
    console.log('  ' + w.answers + ' answers, ' + w.errors.length + ' errors, ' + w.refused.length + ' refusals; ' + w.jobs.taken + ' machines taken in, ' + w.jobs.closed + ' done and closed');
    console.log('  streams: ' + s.opened + ' opened, ' + s.most + ' at once, ' + s.dropped + ' left, ' + s.failed + ' failed, ' + s.told + ' lines told');
    for (const e of [...new Set([...w.errors, ...w.refused])].slice(0, 8)) console.log('  ! ' + e);
    for (const p of w.pages.sort((a, b) => b.p95 - a.p95)) console.log('  ' + p.what.padEnd(25) + String(p.asked).padStart(6) + ' asked, half within ' + p.median.toFixed(0) + ' ms (' + p.halves.map((h) => h.toFixed(0)).join(', then ') + '), 95 of 100 within ' + p.p95.toFixed(0) + ' ms, ' + p.toEmpty.toFixed(1) + ' of the empty page');"
  [ "$(figure "w.errors.length + w.streams.failed")" = 0 ] || { say "  somebody saw an error"; return 1; }
  nothing_lost && stock_is_whole || return 1
  # By quarters of the time: what is held at the most. Compiled code and remembered plans fill the first half.
  awk '{ mb[NR] = $1; if ($2 > most) most = $2 } END {
    for (q = 1; q <= 4; q++) { for (i = int((q - 1) * NR / 4) + 1; i <= q * NR / 4; i++) if (mb[i] > top[q]) top[q] = mb[i] }
    printf "  both programs hold at most %d, %d, %d, %d MB, quarter by quarter; at most %d connections\n", top[1], top[2], top[3], top[4], most
    exit (most > 150 || top[4] > 1.1 * top[3]) }' "$WORLD.held" || { say "  what is held grows"; return 1; }
}
