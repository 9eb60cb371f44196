# Node packages and Debian packages: what is missing is installed, or the exact command is printed.

MIN_NODE=20

prepare_tools() { # test | run | quiet
  command -v node >/dev/null || fail "Node $MIN_NODE or newer is needed and was not found."
  local major
  major=$(node -p 'process.versions.node.split(".")[0]')
  [ "$major" -ge "$MIN_NODE" ] || fail "Node $MIN_NODE or newer is needed; this is $(node --version)."
  install_node_packages
  [ "$1" = quiet ] || install_debian postgresql-15 "$PG_BIN/initdb"
  [ "$1" != test ] || install_debian chromium-headless-shell /usr/bin/chromium-headless-shell
  [ "$1" != test ] || install_debian faketime /usr/bin/faketime
  [ "$1" != test ] || install_debian pgbouncer /usr/sbin/pgbouncer
  [ "$1" != test ] || install_debian nginx /usr/sbin/nginx
  [ "$1" != test ] || install_debian openssl /usr/bin/openssl
}

install_node_packages() {
  local stamp=node_modules/.crindle-lock want
  want=$(cat package.json package-lock.json | node_hash)
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$want" ] && return
  say "Installing Node packages (about a minute the first time)"
  npm ci --no-audit --no-fund --loglevel=error >&2
  printf '%s' "$want" >"$stamp"
}

node_hash() { node -e 'const h=require("crypto").createHash("sha256");process.stdin.on("data",d=>h.update(d)).on("end",()=>console.log(h.digest("hex")))'; }

install_debian() { # package, file that shows it is there
  [ -e "$2" ] && return
  local sudo=""
  if [ "$(id -u)" != 0 ]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
      sudo="sudo -n"
    else
      fail "The Debian package $1 is missing. Install it with: sudo apt-get update && sudo apt-get install -y $1"
    fi
  fi
  command -v apt-get >/dev/null || fail "$1 is missing and this machine has no apt-get to install it with."
  say "Installing $1 from Debian's packages"
  $sudo env DEBIAN_FRONTEND=noninteractive sh -c "apt-get update -qq && apt-get install -y -qq --no-install-recommends $1" >/dev/null \
    || fail "apt-get could not install $1; try: apt-get update && apt-get install -y $1"
  [ -e "$2" ] || fail "$1 was installed but $2 is not there."
}
