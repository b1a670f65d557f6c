# What the program needs from outside: the .NET SDK (checked), PostgreSQL, Chromium and Node.js (Debian's packages).

need_dotnet() {
  command -v dotnet >/dev/null || fail "The .NET 10 SDK is not installed." "Install it (package dotnet-sdk-10.0) and run this again."
  dotnet --version >/dev/null 2>&1 || fail "No .NET SDK fits global.json, which asks for .NET 10." "Install the .NET 10 SDK and run this again."
  export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1
}

postgres_bin() {
  local dir
  dir=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
  [ -n "$dir" ] && [ -x "$dir/initdb" ] && echo "$dir"
}

need_postgres() {
  [ -n "$(postgres_bin)" ] || install_packages PostgreSQL postgresql
  PG_BIN=$(postgres_bin) || fail "PostgreSQL was installed, but its programs are not under /usr/lib/postgresql." "Install Debian's package postgresql."
}

need_browser() {
  local missing=()
  # The shell draws the same pages without a desktop's share of the work, in two thirds of the time; Chromium itself will do.
  command -v chromium-headless-shell >/dev/null ||
    (install_packages "Chromium's headless shell" chromium-headless-shell) || command -v chromium >/dev/null || exit 1
  command -v node >/dev/null || missing+=(nodejs)
  command -v npm >/dev/null || missing+=(npm)
  # Printed sheets are looked at as paper: a PDF's page as a picture.
  command -v pdftoppm >/dev/null || missing+=(poppler-utils)
  [ ${#missing[@]} -eq 0 ] || install_packages "what the browser tests drive" "${missing[@]}"
}

# install_packages WHAT PACKAGE…: as root or through sudo; otherwise says the one command to run.
install_packages() {
  local what=$1 run=()
  shift
  if ! is_root; then
    if sudo -n true 2>/dev/null; then
      run=(sudo)
    else
      fail "${what^} is missing and only root can install it." "Run: sudo apt-get update && sudo apt-get install -y --no-install-recommends $*"
    fi
  fi
  quietly "Asking Debian for its list of packages" "${run[@]}" apt-get update
  # Installing the server must not start one of its own: ours is private to this folder.
  quietly "Installing $what ($*)" "${run[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends "$@"
}
