# Backups of the whole book, photographs included: one file in pg_dump's own format, believed only after it was restored
# into a database beside and every table of it counted and summed against the one it was taken from.

# use_database CONNECTION: sets what PostgreSQL's programs ask for; without a connection, the private cluster's, started
# where it does not run.
own_started=""
use_database() {
  local connection=$1 cluster key value
  need_postgres
  if [ -z "$connection" ]; then
    cluster=$(cluster_home pg)
    [ "${2:-}" = make ] || [ -f "$cluster/PG_VERSION" ] ||
      fail "There is no database in this folder yet." "Run ./zenrik start first, or say which with --connection \"…\"."
    make_cluster "$cluster"
    if ! cluster_runs "$cluster"; then
      start_cluster "$cluster"
      own_started=$cluster
    fi
    connection=$(connection_to "$cluster" zenrik)
  fi
  export PGHOST=127.0.0.1 PGPORT=5432 PGUSER=zenrik PGPASSWORD="" PGDATABASE=zenrik PGTZ=UTC
  while IFS='=' read -r key value; do
    case "$(tr 'A-Z' 'a-z' <<<"$key" | tr -d ' ')" in
      host | server) PGHOST=$value ;;
      port) PGPORT=$value ;;
      username | userid) PGUSER=$value ;;
      password) PGPASSWORD=$value ;;
      passfile) export PGPASSFILE=$value ;;
      database) PGDATABASE=$value ;;
    esac
  done < <(tr ';' '\n' <<<"$connection")
  psql_on "$PGDATABASE" -c "SELECT 1" >/dev/null 2>&1 || [ "${2:-}" = make ] ||
    fail "The database $PGDATABASE on $PGHOST does not answer." "Look at the address, the name and the password in --connection."
}

# Every step this version of the program knows. An installed one asks the program itself.
declare -F known_migrations >/dev/null ||
  known_migrations() { basename -s .cs -a src/Zenrik.Workshop/Migrations/*.cs; }

psql_on() { # DATABASE arguments…
  local database=$1
  shift
  "$PG_BIN/psql" -X -q -t -A -v ON_ERROR_STOP=1 -d "$database" "$@"
}

leave_database() { [ -z "$own_started" ] || stop_cluster "$own_started"; }

# Of every table its rows and a sum over all that stands in them.
figures="SELECT t.table_name || ' ' || (xpath('/row/f/text()', query_to_xml(format(
    'SELECT count(*) || '' '' || coalesce(sum(hashtextextended(t::text, 0)::numeric), 0) AS f FROM %I.%I t',
    t.table_schema, t.table_name), false, true, '')))[1]::text
  FROM information_schema.tables t WHERE t.table_schema = 'public' AND t.table_type = 'BASE TABLE' ORDER BY t.table_name"

backup() {
  local file="" connection=""
  while [ $# -gt 0 ]; do
    case "$1" in
      --connection) [ -n "${2:-}" ] || fail "--connection wants the connection string of the tables' owner."; connection=$2; shift 2 ;;
      -*) fail "backup does not know \"$1\"." "It takes a file and --connection \"…\"." ;;
      *) [ -z "$file" ] || fail "backup takes one file."; file=$1; shift ;;
    esac
  done
  [ -n "$file" ] || fail "backup wants the name of a file." "For example: ./zenrik backup workshop-$(date +%F).backup"
  [ ! -e "$file" ] || fail "$file is there already." "Choose another name; a backup is never written over."
  [ -d "$(dirname "$file")" ] && [ -w "$(dirname "$file")" ] || fail "$(dirname "$file") is no folder that can be written to."
  trap leave_database EXIT
  use_database "$connection"

  local part="$file.part" work scratch="zenrik_check_$$" snapshot rows
  work=$(mktemp -d)
  trap 'psql_on postgres -c "DROP DATABASE IF EXISTS \"'"$scratch"'\" WITH (FORCE)" >/dev/null 2>&1; rm -rf "'"$work"'" "'"$part"'"; leave_database' EXIT
  # One moment for the dump and for the figures, while others go on working.
  coproc reader { psql_on "$PGDATABASE"; }
  echo "BEGIN ISOLATION LEVEL REPEATABLE READ; SELECT pg_export_snapshot();" >&"${reader[1]}"
  read -r snapshot <&"${reader[0]}"
  (umask 077 && "$PG_BIN/pg_dump" -Fc --no-owner --no-privileges --snapshot="$snapshot" -f "$part") ||
    fail "The backup could not be written." "Is the disk full? Nothing was kept."
  printf '%s\n' "\\o $work/source" "$figures;" "\\o" "SELECT 'done';" "COMMIT;" >&"${reader[1]}"
  read -r _ <&"${reader[0]}"
  echo '\q' >&"${reader[1]}"

  psql_on postgres -c "CREATE DATABASE \"$scratch\"" ||
    fail "The backup could not be tried: no database can be made beside this one." "Give the role in --connection the right CREATEDB."
  "$PG_BIN/pg_restore" --exit-on-error --no-owner --no-privileges -d "$scratch" "$part" >"$work/restore" 2>&1 ||
    fail "The backup was written but cannot be restored, so it was thrown away." "$(tail -n 1 "$work/restore")"
  psql_on "$scratch" -c "$figures" >"$work/restored"
  if ! diff "$work/source" "$work/restored" >"$work/differs"; then
    fail "The backup does not hold what the book does, so it was thrown away." "It differs in: $(sed -n 's/^[<>] \([a-z_]*\).*/\1/p' "$work/differs" | sort -u | tr '\n' ' ')"
  fi
  rows=$(awk '{ n += $2 } END { print n }' "$work/source")
  mv "$part" "$file"
  psql_on "$PGDATABASE" -v name="$(basename "$file")" <<SQL
INSERT INTO backups (at, file, bytes, rows) VALUES (now(), left(:'name', 200), $(stat -c %s "$file"), $rows);
SQL
  say "$file holds the whole book: $(wc -l <"$work/source") tables, $rows rows, $(du -h "$file" | cut -f1). It was restored beside and is the same."
  say "Passwords are in it as hashes, and the keys that sign people in: keep it where only you can read it."
}

restore() {
  local file="" connection=""
  while [ $# -gt 0 ]; do
    case "$1" in
      --connection) [ -n "${2:-}" ] || fail "--connection wants the connection string of the tables' owner."; connection=$2; shift 2 ;;
      -*) fail "restore does not know \"$1\"." "It takes a file and --connection \"…\"." ;;
      *) [ -z "$file" ] || fail "restore takes one file."; file=$1; shift ;;
    esac
  done
  [ -n "$file" ] || fail "restore wants the name of a backup."
  [ -r "$file" ] || fail "There is no file $file that can be read."
  if [ -s .zenrik/web.pid ] && grep -aqs 'Zenrik[.]Web' "/proc/$(cat .zenrik/web.pid)/cmdline"; then
    [ -n "$connection" ] || fail "The program is running." "Stop it first: ./zenrik stop"
  fi
  trap leave_database EXIT
  use_database "$connection" make

  local work fresh="zenrik_restored_$$" before newest there
  work=$(mktemp -d)
  trap 'psql_on postgres -c "DROP DATABASE IF EXISTS \"'"$fresh"'\" WITH (FORCE)" >/dev/null 2>&1; rm -rf "'"$work"'"; leave_database' EXIT
  "$PG_BIN/pg_restore" -l "$file" >"$work/list" 2>/dev/null || fail "$file is no backup of Zenrik, or is not whole." "Nothing was changed."
  grep -q 'TABLE DATA public __EFMigrationsHistory' "$work/list" || fail "$file is a backup of something else." "Nothing was changed."
  psql_on postgres -c "CREATE DATABASE \"$fresh\"" || fail "No database can be made beside the present one." "Nothing was changed."
  "$PG_BIN/pg_restore" --exit-on-error --no-owner --no-privileges -d "$fresh" "$file" >"$work/restore" 2>&1 ||
    fail "$file is cut short or damaged: $(tail -n 1 "$work/restore")" "Nothing was changed."
  newest=$(psql_on "$fresh" -c 'SELECT max(migration_id) FROM "__EFMigrationsHistory"')
  known_migrations | grep -x "$newest" >/dev/null ||
    fail "$file was made by a newer version of the program ($newest)." "Bring the program up to that version first. Nothing was changed."

  if psql_on postgres -c "SELECT 1 FROM pg_database WHERE datname = '$PGDATABASE'" | grep -q 1; then
    before="${PGDATABASE}_before_$(date +%Y%m%d_%H%M%S)"
    psql_on postgres -c "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '$PGDATABASE'" >/dev/null
    psql_on postgres -c "ALTER DATABASE \"$PGDATABASE\" RENAME TO \"$before\"" ||
      fail "Somebody still works with the database." "Stop every program that uses it and run this again. Nothing was changed."
  fi
  psql_on postgres -c "ALTER DATABASE \"$fresh\" RENAME TO \"$PGDATABASE\""
  there=$(psql_on "$PGDATABASE" -c "SELECT count(*) || ' units, ' || (SELECT count(*) FROM repairs) || ' repairs, ' || (SELECT count(*) FROM movements) || ' movements' FROM units")
  say "The book is as it was in $file: $there."
  [ -z "${before:-}" ] || say "What was there before is kept as the database $before; drop it when you are sure."
}
