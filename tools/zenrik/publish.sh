# One folder, and one Debian package of it, to be installed where there is neither source nor SDK.

# publish [--output DIR]: the program with its runtime, compiled ahead for linux-x64, laid out as it is installed.
publish() {
  local into=dist version root
  while [ $# -gt 0 ]; do
    case "$1" in
      --output) [ -n "${2:-}" ] || fail "--output wants the name of a folder."; into=$2; shift 2 ;;
      *) fail "publish does not know \"$1\"." "It takes --output DIR." ;;
    esac
  done
  need_dotnet
  command -v dpkg-deb >/dev/null || fail "dpkg-deb is missing." "Install Debian's package dpkg."
  version=$(sed -n 's:.*<Version>\(.*\)</Version>.*:\1:p' Directory.Build.props)
  root=$into/zenrik-$version
  [ ! -e "$root" ] || fail "$root is there already." "Move it away, or choose another folder with --output."
  mkdir -p "$into"
  cp -r tools/publish "$root"
  [ -x "$root/usr/bin/zenrik" ] || fail "tools/publish/usr/bin/zenrik is missing, without which nothing installed can be prepared or backed up."
  # Compiled apart from what ./zenrik start builds, so that neither spoils the other's.
  quietly "Publishing the program" dotnet publish src/Zenrik.Web -c Release -r linux-x64 --self-contained \
    -p:PublishReadyToRun=true -p:DebugType=none --artifacts-path "$into/.build" -o "$root/usr/lib/zenrik" -v quiet
  mkdir -p "$root/usr/lib/zenrik/tools"
  cp tools/zenrik/say.sh tools/zenrik/install.sh tools/zenrik/backup.sh "$root/usr/lib/zenrik/tools/"
  cp docs/operate.md CHANGELOG.md "$root/usr/share/doc/zenrik/"
  cp LICENSE "$root/usr/share/doc/zenrik/copyright"
  sed -i "s/@VERSION@/$version/" "$root/DEBIAN/control"
  find "$root" -type d -exec chmod 0755 {} +
  chmod -R go=u-w "$root"
  quietly "Packing" dpkg-deb -Zgzip --build --root-owner-group "$root" "$into/zenrik_${version}_amd64.deb"
  say "$root is the program as it is installed; $into/zenrik_${version}_amd64.deb is the same to be installed with apt."
}
