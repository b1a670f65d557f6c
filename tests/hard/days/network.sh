# The cable between one of two programs and the database is pulled for twenty seconds: nobody is refused, packets go nowhere.
# Who works at the other notices nothing. That one's network is its own, with a way to the database and a way to the people.
day_network_cut() {
  is_root || { say "  needs root, for a network of its own"; return 1; }
  command -v ip >/dev/null || install_packages "networks to cut" iproute2
  local port way
  NET="hard$$"
  end_more() {
    ip netns del "$NET" || true
  }
  ip netns add "$NET" || { say "  this machine gives nobody a network of their own"; return 1; }
  ip -n "$NET" link set lo up
  for way in db:10.213.77 people:10.213.78; do
    ip link add "hz${way%%:*}" type veth peer name "${way%%:*}" netns "$NET"
    ip addr add "${way#*:}.1/30" dev "hz${way%%:*}"
    ip -n "$NET" addr add "${way#*:}.2/30" dev "${way%%:*}"
    ip link set "hz${way%%:*}" up
    ip -n "$NET" link set "${way%%:*}" up
  done

  own_database listen_addresses=127.0.0.1,10.213.77.1 || return 1
  echo "host all all 10.213.77.0/30 scram-sha-256" >>"$WORLD/pg_hba.conf"
  ask "SELECT pg_reload_conf()" >/dev/null
  port=$(free_port)
  (export ConnectionStrings__Workshop="${WEB/Host=127.0.0.1/Host=10.213.77.1}" ASPNETCORE_ENVIRONMENT=Production AllowedHosts=10.213.78.2
    cd "$app" && exec ip netns exec "$NET" dotnet Zenrik.Web.dll --urls "http://10.213.78.2:$port") >"$WORLD.web-far.log" 2>&1 &
  pids+=($!)
  urls+=("http://10.213.78.2:$port")
  ready "${urls[0]}" || { cat "$WORLD.web-far.log" >&2; return 1; }
  serve_one
  work 50
  ip link set hzdb down
  sleep 20
  ! ready "${urls[0]}" 1 || { say "  the one that was cut off says it is ready"; return 1; }
  ip link set hzdb up
  worked
  ready "${urls[0]}" 20 || { say "  the one that was cut off did not come back"; return 1; }
  say "  at the program that was not cut off: the slowest answer in $(figure "Object.values(w.byInstance)[1].most.toFixed(0)") ms"
  [ "$(figure "Object.values(w.byInstance)[1].unanswered")" = 0 ] || { say "  the program that was not cut off failed somebody"; return 1; }
  nothing_lost && stock_is_whole
}
