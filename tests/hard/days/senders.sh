# Hundreds of connections dribble headers and forms or flood headers, while people work on the same program: they are served
# all along, the dribblers are cut off, the floods refused.
day_slow_senders() {
  own_database || return 1
  serve_one
  work 60
  node tests/hard/senders.mjs --url "${urls[0]}" --each 200 --for 45 --out "$WORLD.senders.json"
  worked
  node -e "
    const s = JSON.parse(require('fs').readFileSync('$WORLD.senders.json'));
    for (const [kind, k] of Object.entries(s)) console.log('  ' + kind + ': ' + k.opened + ' opened, ' + k.closed + ' closed by the program, ' + k.refused + ' told why, ' + k.served + ' served');
    const good = Object.values(s).every((k) => k.opened > 0 && k.closed === k.opened && k.served === 0);
    process.exit(good ? 0 : 1);" || { say "  some were left to dribble, or served"; return 1; }
  say "  meanwhile half of the answers within $(figure "Object.values(w.byInstance)[0].median.toFixed(0)") ms, the slowest in $(figure "Object.values(w.byInstance)[0].most.toFixed(0)") ms"
  [ "$(figure "Object.values(w.byInstance)[0].unanswered")" = 0 ] || { say "  somebody was not answered"; return 1; }
  nothing_lost && stock_is_whole
}
