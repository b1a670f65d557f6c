# Nothing breaks: the same pages are asked of two programs on one book, one of which may read from a follower. What each of them
# takes of the primary's processor time is what the follower takes off it. FOLLOWER_FLEET makes the book large.
day_follower() {
  local follower="$WORLD.follower" password pages tag rounds=${FOLLOWER_ROUNDS:-30} alone with taken
  end_more() { stop_cluster "$WORLD.follower"; }
  FLEET=${FOLLOWER_FLEET:-}
  own_database || return 1
  password=$(cat "$WORLD.password")
  cp -p "$WORLD.password" "$follower.password"
  mkdir -m 700 "$follower"
  if is_root; then chown postgres "$follower"; fi
  as_postgres env PGPASSWORD="$password" "$PG_BIN/pg_basebackup" -h 127.0.0.1 -p "$(cat "$WORLD.port")" -U zenrik \
    -D "$follower" -X stream -R -c fast >"$follower.log" 2>&1 || { cat "$follower.log"; return 1; }
  start_cluster "$follower"
  serve_one
  export ConnectionStrings__Follower
  ConnectionStrings__Follower=$(sed "s/Port=[0-9]*/Port=$(cat "$follower.port")/" <<<"$WEB")
  serve_one
  say "  $(ask "SELECT count(*) FROM units") units; the follower $(cluster_psql "$follower" zenrik -qtAXc "SELECT CASE WHEN pg_is_in_recovery() THEN 'follows' END")"
  # Half a minute after its start a program reckons figures of the whole fleet.
  sleep 40
  tag=$(ask "SELECT tag FROM units ORDER BY md5(tag) LIMIT 1")
  # Lists and what lies ahead; then what is the primary's alone, as often as a day asks for it.
  for pages in "/fleet /fleet?search=sandpiper /stores /outlook /outlook/watch /outlook/spares /outlook/money /house/audit" \
    "/ /fleet/$tag /fleet /stores /fleet/$tag /outlook /bench / /fleet?search=sandpiper"; do
    look "${urls[0]}" 3 $pages && look "${urls[1]}" 3 $pages || return 1
    taken=$(spent "$follower")
    alone=$(spent "$WORLD")
    look "${urls[0]}" "$rounds" $pages || return 1
    alone=$(($(spent "$WORLD") - alone))
    with=$(spent "$WORLD")
    look "${urls[1]}" "$rounds" $pages || return 1
    with=$(($(spent "$WORLD") - with))
    taken=$(($(spent "$follower") - taken))
    awk -v n="$((rounds * $(wc -w <<<"$pages")))" -v a="$alone" -v w="$with" -v t="$taken" -v p="$pages" 'BEGIN {
      printf "  %s: %.1f ms of the primary a page; with a follower %.1f (%.2f of it), and %.1f of the follower\n", p, 10 * a / n, 10 * w / n, w / a, 10 * t / n
      exit (w >= a || t == 0) }' || { say "  the follower takes nothing off it"; return 1; }
  done
}

# spent DIR: processor time of all of a cluster's processes so far, those that have ended too, in hundredths of a second.
spent() {
  local main pid
  main=$(head -n 1 "$1/postmaster.pid")
  for pid in "$main" $(pgrep -P "$main"); do cat "/proc/$pid/stat" 2>/dev/null || true; done |
    awk -v main="$main" '{ sub(/^.*\) /, ""); sum += $12 + $13 } FNR == 1 { sum += $14 + $15 } END { print sum + 0 }'
}

# look URL ROUNDS PAGE…: one person asks for each page so many times; what is not answered with 200 is an error.
look() {
  node --input-type=module -e '
    import { Visitor } from "./tests/hard/visitor.mjs";
    const [base, rounds, ...pages] = process.argv.slice(1);
    const mara = new Visitor("mara");
    await mara.signInAt(base);
    // Whoever has just signed in is shown the primary for ten seconds.
    mara.cookies.delete("zenrik-just-written");
    for (let i = 0; i < rounds; i++) {
      for (const page of pages) {
        const { status } = await mara.ask(base + page);
        if (status !== 200) throw new Error(`${page} answered ${status}`);
      }
    }' "$@"
}
