# Builds only when a source changed.

sources_hash() {
  node -e '
    const { createHash } = require("crypto"); const { readFileSync, readdirSync } = require("fs");
    const hash = createHash("sha256");
    const add = (path) => { for (const entry of readdirSync(path, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const at = path + "/" + entry.name;
      if (entry.isDirectory()) add(at); else if (!/\.test\.tsx?$/.test(at)) hash.update(at).update(readFileSync(at)); } };
    for (const folder of ["src", "demo", "bench", "standins", "public"]) { try { add(folder); } catch (cause) { if (cause.code !== "ENOENT") throw cause; } }
    for (const file of ["scripts/build.mjs", "scripts/innerNames.mjs", "package-lock.json", "next.config.ts", "postcss.config.mjs", "tsconfig.json"]) hash.update(readFileSync(file));
    console.log(hash.digest("hex"));'
}

# One builds at a time in one folder; whoever waited finds it built.
ensure_built() {
  if command -v flock >/dev/null; then
    (
      flock -w 900 8 || fail "Somebody else has been building here for fifteen minutes."
      build_if_changed
    ) 8>>node_modules/.crindle-build.lock
  else
    build_if_changed
  fi
}

build_if_changed() {
  local want
  want=$(sources_hash)
  [ -f dist/built ] && [ "$(cat dist/built)" = "$want" ] && [ -d .next ] && return
  say "Building the page script and the servers"
  node scripts/build.mjs >&2
  say "Building the studio (under a minute)"
  mkdir -p .next
  NEXT_TELEMETRY_DISABLED=1 node node_modules/next/dist/bin/next build >.next/build.log 2>&1 || { tail -n 40 .next/build.log >&2; fail "The studio did not build."; }
  printf '%s' "$want" >dist/built
}
