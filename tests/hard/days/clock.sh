# The clock of one of two programs jumps three hours ahead while people work, and then two hours behind everybody else's, as
# after a battery or a wrong time server. What is done is done once.
day_clock_jump() {
  local fake clock="$WORLD.clock"
  fake=$(dpkg -L libfaketime 2>/dev/null | grep -m1 'libfaketimeMT.so.1$') || {
    install_packages "a library that pretends another time" libfaketime
    fake=$(dpkg -L libfaketime | grep -m1 'libfaketimeMT.so.1$')
  }
  own_database || return 1
  echo "+0" >"$clock"
  chmod 644 "$clock"
  LD_PRELOAD=$fake FAKETIME_TIMESTAMP_FILE=$clock FAKETIME_CACHE_DURATION=1 FAKETIME_DONT_FAKE_MONOTONIC=1 serve_one
  serve_one
  work 40
  echo "+3h" >"$clock"
  sleep 12
  echo "-2h" >"$clock"
  worked
  local ahead
  ahead=$(ask "SELECT count(*) FROM repair_notes WHERE text LIKE 'hard %' AND at > now() + interval '1 hour'")
  say "  notes dated later than now: $ahead"
  [ "$ahead" -gt 0 ] || { say "  no clock was seen to jump"; return 1; }
  nothing_lost && stock_is_whole
}
