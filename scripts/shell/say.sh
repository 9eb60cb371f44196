# How the shell commands talk. Progress goes to standard error, so that commands with an answer can be piped.
say() { printf '%s\n' "$*" >&2; }
fail() { printf 'crindle: %s\n' "$*" >&2; exit 1; }
