# Dumps of the database, made and brought back. Sourced after ground.sh, never run.
# shellcheck shell=bash

backups=$home/backups
KEPT=14  # of the dumps that have no name of their own

# A command of PostgreSQL at the demo cluster's server: at COMMAND [ARGUMENT ...]
at() {
  local command=$1; shift
  as_postgres "$(pg_bin "$home/demo")/$command" -h "$socket" -p "$(sed -n 4p "$home/demo/data/postmaster.pid")" -U postgres "$@"
}

# Meet the demo cluster's server, which another command may hold; start it where none runs.
meet_postgres() {
  [ -e "$home/demo/data/PG_VERSION" ] || die "there is no database in $home/demo yet: ./run makes it"
  if is_serving "$home/demo/data" 2>/dev/null; then load_secrets; place_socket "$home/demo"; else trap stop_postgres EXIT; start_postgres demo; fi
}

# Whether a file is a dump, and whole. check_dump FILE
check_dump() {
  [ -f "$1" ] && [ -r "$1" ] || die "there is no file $1 that can be read"
  if [ -e "$1.sha256" ]; then
    [ "$(sha256sum <"$1")" = "$(cat "$1.sha256")" ] || die "$1 is damaged: it is not what was written. Nothing was changed"
  fi
  "$(pg_bin "$home/demo")/pg_restore" --list "$1" >/dev/null 2>&1 || die "$1 is no dump of Rainshade, or it is cut off. Nothing was changed"
}

# The whole database into one file, which is there whole or not at all. dump_to FILE
dump_to() {
  (umask 077; mkdir -p "$(dirname "$1")"; at pg_dump -Fc rainshade >"$1.part") || { rm -f "$1.part"; die "the dump failed, and is not kept"; }
  sha256sum <"$1.part" >"$1.sha256"
  mv "$1.part" "$1"
  check_dump "$1"
}

# Of the dumps without a name of their own the newest stay.
forget_old_dumps() {
  local kind old
  for kind in rainshade before; do
    while read -r old; do rm -f "$old" "$old.sha256"; done < <(find "$backups" -name "$kind-*.dump" | sort | head -n -$KEPT)
  done
}
