#!/bin/sh
# The browser tests drive Debian's own Chromium; fetch it when it is missing.
set -u
command -v chromium >/dev/null 2>&1 && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
    echo "Installing Debian's chromium for the browser tests ..."
    apt-get update -qq >/dev/null 2>&1
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null 2>&1
fi
command -v chromium >/dev/null 2>&1 && exit 0
echo "The browser tests need Debian's chromium, which is not here and could not be installed." >&2
echo "Install it (as root: apt-get update && apt-get install chromium) and run this again." >&2
exit 1
