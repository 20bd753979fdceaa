#!/bin/sh
# The benchmark compares the review copy with the ffmpeg command line doing the same encode.
set -u
command -v ffmpeg >/dev/null 2>&1 && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
    echo "Installing Debian's ffmpeg for the comparison ..."
    apt-get update -qq >/dev/null 2>&1
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq ffmpeg >/dev/null 2>&1
fi
command -v ffmpeg >/dev/null 2>&1 && exit 0
echo "The benchmark needs Debian's ffmpeg, which is not here and could not be installed." >&2
echo "Install it (as root: apt-get update && apt-get install ffmpeg) and run this again." >&2
exit 1
