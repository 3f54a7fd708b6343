# Shared by the scripts: where things are, and how each is made ready. Sourced, not run.
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
LOCAL=${INKWELL_LOCAL:-$ROOT/.local}
PYTHON=$ROOT/.venv/bin/python
export INKWELL_LOCAL=$LOCAL
# Compiled loops call others from other files, whose changes the compiler's own cache does not see:
# each state of the code has a cache of its own.
KERNELS=$LOCAL/kernels-$(cat "$ROOT"/moth/{engine,world,transport}/*.py | sha256sum | cut -c1-12)
export NUMBA_CACHE_DIR=$KERNELS

say() { printf '\n== %s\n' "$*"; }
as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

need_packages() { # need_packages COMMAND PACKAGE: install from Debian if the command is missing
  local command=$1 package=$2
  command -v "$command" >/dev/null 2>&1 && return
  say "Installing $package from Debian's packages"
  if [ "$package" = postgresql ]; then
    # Debian would start a server of its own on the usual port: this machine may not want one.
    as_root mkdir -p /etc/postgresql-common/createcluster.d
    printf 'create_main_cluster = false\n' | as_root tee /etc/postgresql-common/createcluster.d/inkwell-moth.conf >/dev/null
  fi
  as_root apt-get update -q </dev/null
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "$package" </dev/null
}

postgres_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1; }

# PostgreSQL refuses to run as root: then its own user runs it and keeps the data, in a place that
# .local remembers. A new clone makes a new one, whatever an earlier clone in the same folder left.
if [ "$(id -u)" = 0 ]; then
  if [ ! -f "$LOCAL/data-directory" ]; then
    mkdir -p "$LOCAL"
    printf '/var/lib/postgresql/inkwell-moth-%s' "$(python3 -c 'import secrets; print(secrets.token_hex(6), end="")')" > "$LOCAL/data-directory"
  fi
  DATA=$(cat "$LOCAL/data-directory")
  as_postgres() { (cd / && runuser -u postgres -- "$@"); }
else
  DATA=$LOCAL/postgres
  as_postgres() { "$@"; }
fi

free_port() { # the one it had, so that a server that runs finds it again, or else the first free one
  python3 - "$LOCAL/database.json" <<'P'
import json
import socket
import sys
try:
    had = [json.load(open(sys.argv[1]))["port"]]
except (OSError, ValueError, KeyError):
    had = []
for port in [*had, *range(54610, 54700)]:
    with socket.socket() as s:
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            s.bind(("127.0.0.1", port))
        except OSError:
            continue
        print(port)
        break
P
}

# Whether it is there and listens. Its process alone says little, for a killed one may stay in the
# list; its port alone too, for another's server may have it now.
postgres_answers() {
  local port
  as_postgres "$(postgres_bin)/pg_ctl" -D "$DATA" status >/dev/null 2>&1 || return 1
  port=$(as_postgres sed -n 4p "$DATA/postmaster.pid" 2>/dev/null | tr -d ' ')
  [ -n "$port" ] || return 1
  "$(postgres_bin)/pg_isready" -q -h 127.0.0.1 -p "$port" || [ $? = 1 ] # 1: not yet, but it is there
}

start_postgres() {
  if [ -z "$(postgres_bin)" ]; then need_packages no-postgres-server postgresql; fi
  local bin port password superpassword
  bin=$(postgres_bin)
  mkdir -p "$LOCAL" && chmod 700 "$LOCAL"
  if [ ! -f "$LOCAL/superuser" ] || ! as_postgres test -f "$DATA/PG_VERSION"; then
    say "Making a database cluster of our own in $DATA"
    as_postgres test ! -e "$DATA" || { echo "$DATA exists but its password is lost; move it away and run again." >&2; exit 1; }
    superpassword=$(python3 -c 'import secrets; print(secrets.token_urlsafe(24))')
    if [ "$(id -u)" = 0 ]; then install -d -o postgres -g postgres -m 700 "$DATA"; else mkdir -p "$DATA" && chmod 700 "$DATA"; fi
    printf '%s\n' "$superpassword" | as_postgres sh -c "umask 077; cat > '$DATA.pw'"
    as_postgres "$bin/initdb" -D "$DATA" -U postgres --pwfile="$DATA.pw" --auth=scram-sha-256 -E UTF8 --locale=C.UTF-8 >/dev/null
    as_postgres rm "$DATA.pw"
    (umask 077; printf '%s' "$superpassword" > "$LOCAL/superuser")
    rm -f "$LOCAL/database.json"
  fi
  if ! postgres_answers; then
    port=$(free_port)
    say "Starting PostgreSQL on 127.0.0.1:$port"
    local tries=0
    until as_postgres "$bin/pg_ctl" -D "$DATA" -w -s -l "$DATA/server.log" \
      -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c fsync=on" start </dev/null >/dev/null
    do # what is left of one that was killed lets its memory go after a moment
      tries=$((tries + 1)); [ $tries -lt 20 ] || exit 1
      sleep 0.5
    done
  fi
  port=$(as_postgres sed -n 4p "$DATA/postmaster.pid" | tr -d ' ')
  [ -f "$LOCAL/database-password" ] || (umask 077; python3 -c 'import secrets; print(secrets.token_urlsafe(24), end="")' > "$LOCAL/database-password")
  password=$(cat "$LOCAL/database-password")
  export PGPASSWORD; PGPASSWORD=$(cat "$LOCAL/superuser")
  local sql=("$bin/psql" -h 127.0.0.1 -p "$port" -U postgres -d postgres -qAt -v ON_ERROR_STOP=1)
  if [ "$("${sql[@]}" -c "select 1 from pg_roles where rolname='inkwell'" </dev/null)" != 1 ]; then
    printf "create role inkwell login createdb password '%s'\n" "$password" | "${sql[@]}"
  fi
  if [ "$("${sql[@]}" -c "select 1 from pg_database where datname='inkwell'" </dev/null)" != 1 ]; then
    "${sql[@]}" -c 'create database inkwell owner inkwell' </dev/null
  fi
  unset PGPASSWORD
  (umask 077; printf '{"name": "inkwell", "user": "inkwell", "password": "%s", "port": %s}\n' "$password" "$port" > "$LOCAL/database.json")
}

stop_postgres() {
  as_postgres "$(postgres_bin)/pg_ctl" -D "$DATA" -s -m fast stop || true
}

python_ready() { # python_ready requirements-file
  if [ ! -x "$PYTHON" ]; then
    say "Making a Python environment in .venv"
    python3 -m venv "$ROOT/.venv" 2>/dev/null || { need_packages no-venv python3-venv; python3 -m venv "$ROOT/.venv"; }
  fi
  local stamp=$ROOT/.venv/.${1##*/}.sum sum
  sum=$(sha256sum < "$ROOT/$1")
  if [ "$(cat "$stamp" 2>/dev/null)" != "$sum" ]; then
    say "Installing Python packages ($1)"
    "$PYTHON" -m pip install --disable-pip-version-check -q --require-hashes -r "$ROOT/$1" </dev/null
    printf '%s' "$sum" > "$stamp"
  fi
}

web_ready() {
  need_packages node nodejs
  need_packages npm npm
  local stamp=$ROOT/web/node_modules/.lock.sum sum
  sum=$(sha256sum < "$ROOT/web/package-lock.json")
  if [ "$(cat "$stamp" 2>/dev/null)" != "$sum" ]; then
    say "Installing web packages"
    (cd "$ROOT/web" && npm ci --no-audit --no-fund --loglevel=error </dev/null)
    printf '%s' "$sum" > "$stamp"
  fi
  local built=$ROOT/web/dist/.sources.sum
  sum=$(cd "$ROOT/web" && find src index.html package.json vite.config.ts public -type f 2>/dev/null | sort | xargs sha256sum | sha256sum)
  if [ "$(cat "$built" 2>/dev/null)" != "$sum" ]; then
    say "Building the screen"
    (cd "$ROOT/web" && npm run --silent build </dev/null)
    printf '%s' "$sum" > "$built"
  fi
}

secrets_ready() {
  mkdir -p "$LOCAL"
  [ -f "$LOCAL/secret-key" ] || (umask 077; python3 -c 'import secrets; print(secrets.token_urlsafe(60), end="")' > "$LOCAL/secret-key")
  [ -f "$LOCAL/demo-password" ] || (umask 077; python3 -c 'import secrets; print("-".join(secrets.token_hex(2) for _ in range(3)), end="")' > "$LOCAL/demo-password")
}
