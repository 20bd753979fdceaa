#!/bin/sh
# The tests of workers on other machines run against Debian's own Redis; fetch it when it is missing.
set -u
command -v redis-server >/dev/null 2>&1 && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
    echo "Installing Debian's redis-server for the tests of workers on other machines ..."
    apt-get update -qq >/dev/null 2>&1
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends redis-server >/dev/null 2>&1
fi
command -v redis-server >/dev/null 2>&1 && exit 0
echo "The tests need Debian's redis-server, which is not here and could not be installed." >&2
echo "Install it (as root: apt-get update && apt-get install redis-server) and run this again." >&2
exit 1
