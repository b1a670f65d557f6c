# The certificate is renewed while people work through the proxy of the example: its file is replaced, HAProxy loads it, and
# nobody notices.
day_certificate_renewed() {
  command -v haproxy >/dev/null || install_packages "the proxy" haproxy
  export Proxies__0=127.0.0.1
  own_database || return 1
  serve_one
  serve_one
  local secure plain proxy
  secure=$(free_port)
  plain=$(free_port)
  certificate before
  sed -e "s#bind :443#bind 127.0.0.1:$secure#; s#bind :80#bind 127.0.0.1:$plain#; s#/etc/haproxy/zenrik.pem#$WORLD.pem#" \
    -e "s#127.0.0.1:5217#${urls[0]#http://}#; s|#server two 127.0.0.1:5218|server two ${urls[1]#http://}|; s/zenrik.example.org/127.0.0.1/" \
    tools/publish/usr/share/doc/zenrik/haproxy.cfg >"$WORLD.haproxy.cfg"
  haproxy -W -f "$WORLD.haproxy.cfg" >"$WORLD.haproxy.log" 2>&1 &
  proxy=$!
  pids+=("$proxy")
  urls=("https://127.0.0.1:$secure")
  shows before || { tail -5 "$WORLD.haproxy.log"; return 1; }
  export NODE_TLS_REJECT_UNAUTHORIZED=0 NODE_NO_WARNINGS=1
  work
  certificate after
  # As systemctl reload haproxy does.
  kill -USR2 "$proxy"
  shows after || { say "  the old certificate is shown still"; return 1; }
  worked
  [ "$(figure "Object.values(w.byInstance)[0].unanswered")" = 0 ] || { say "  somebody was not answered"; return 1; }
  nothing_lost && stock_is_whole
}

# certificate NAME: a new one in the proxy's file, whole or not at all.
certificate() {
  openssl req -x509 -newkey rsa:2048 -nodes -days 1 -subj "/CN=$1" -keyout "$WORLD.key" -out "$WORLD.crt" 2>/dev/null
  (umask 077 && cat "$WORLD.crt" "$WORLD.key" >"$WORLD.pem.new")
  mv "$WORLD.pem.new" "$WORLD.pem"
}

# shows NAME: whether new connections get that certificate, within ten seconds.
shows() {
  local until=$((SECONDS + 10))
  while [ "$SECONDS" -lt "$until" ]; do
    ! openssl s_client -connect "${urls[0]#https://}" </dev/null 2>/dev/null | openssl x509 -noout -subject 2>/dev/null | grep -q "CN = $1" || return 0
    sleep 0.3
  done
  return 1
}
