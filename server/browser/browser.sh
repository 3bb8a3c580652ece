#!/bin/sh
# Runs the browser within limits of memory, time and processes; called in place of it. VETCH_BROWSER names the program.
# Where this runs as root, the browser gets a user without rights, and then has its sandbox.
set -eu
for argument in "$@"; do
  case "$argument" in --user-data-dir=*) profile=${argument#--user-data-dir=} ;; esac
done
export HOME="$profile"
set -- prlimit --data=3221225472 --cpu=120 --nproc=1024 --core=0 "$VETCH_BROWSER" "$@"
[ "$(id -u)" = 0 ] || exec "$@"
user=nobody
chown "$user" "$profile"
exec setpriv --reuid="$user" --regid="$(id -g "$user")" --clear-groups --no-new-privs "$@"
