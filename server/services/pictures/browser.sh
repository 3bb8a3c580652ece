#!/bin/sh
# Runs the browser as a user without rights, within limits of memory, time and processes. Vetch, where it runs as root,
# calls this in place of the browser, which then has its sandbox; VETCH_BROWSER names the program.
set -eu
user=nobody
for argument in "$@"; do
  case "$argument" in --user-data-dir=*) profile=${argument#--user-data-dir=} ;; esac
done
chown "$user" "$profile"
export HOME="$profile"
exec setpriv --reuid="$user" --regid="$(id -g "$user")" --clear-groups --no-new-privs \
  prlimit --data=3221225472 --cpu=120 --nproc=1024 --core=0 "$VETCH_BROWSER" "$@"
