#!/bin/sh
# Lint, format and types of the pages' scripts. Needs npm; without it the step is left out.
set -eu
cd "$(dirname "$0")/.."
if ! command -v npm >/dev/null 2>&1; then
    echo "npm is not installed: the scripts of the pages were not checked."
    exit 0
fi
work=build/scripts
mkdir -p "$work"
if ! cmp -s scripts/scripts-package.json "$work/package.json"; then
    cp scripts/scripts-package.json "$work/package.json"
    (cd "$work" && npm install --ignore-scripts --no-audit --no-fund --silent)
fi
bin="$work/node_modules/.bin"
NODE_PATH="$PWD/$work/node_modules" "$bin/eslint" -c scripts/eslint.config.mjs src/norvik/web tests/scripts
"$bin/prettier" --print-width 110 --log-level warn --check \
    "src/norvik/web/**/*.js" "tests/scripts/*.mjs" "!**/*.min.js"
"$bin/tsc" -p scripts/tsconfig.json
