# One of two programs is killed while people work on both: its people go on at the other, whose own notice nothing.
day_program_killed() {
  own_database || return 1
  serve_one
  serve_one
  work
  kill -KILL "${pids[0]}"
  worked
  say "  at the program that lived: half of the answers within $(figure "Object.values(w.byInstance)[1].median.toFixed(0)") ms, the slowest in $(figure "Object.values(w.byInstance)[1].most.toFixed(0)") ms"
  # Whoever was at the killed one is answered at the first try by the other, which fails nobody.
  [ "$(figure "Object.values(w.byInstance)[1].unanswered")" = 0 ] || { say "  the program that lived failed somebody"; return 1; }
  nothing_lost && stock_is_whole
}
