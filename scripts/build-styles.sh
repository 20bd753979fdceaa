#!/bin/sh
# Builds the stylesheet from the templates. The result is committed: running Norvik needs no Node.
set -eu
cd "$(dirname "$0")/.."
work=build/styles
mkdir -p "$work"
cp scripts/styles-package.json "$work/package.json"
(cd "$work" && npm install --ignore-scripts --no-audit --no-fund --silent)
NODE_PATH="$work/node_modules" "$work/node_modules/.bin/tailwindcss" \
    --input src/norvik/web/styles/norvik.css \
    --output src/norvik/web/static/css/norvik.css --minify
