// What the scripts of the pages are held to. Run by scripts/check-scripts.sh.
import { createRequire } from "node:module";

const require = createRequire(new URL(`file://${process.env.NODE_PATH}/`));
const js = require("@eslint/js");
const globals = require("globals");

export default [
  { ignores: ["**/*.min.js", "build/**", ".venv/**", "data/**"] },
  js.configs.recommended,
  {
    files: ["src/norvik/web/**/*.js", "tests/scripts/*.mjs"],
    languageOptions: {
      ecmaVersion: 2024,
      sourceType: "module",
      globals: { ...globals.browser, htmx: "readonly", tus: "readonly" },
    },
    rules: {
      "no-use-before-define": ["error", { functions: false, classes: false, variables: false }],
      "no-unused-vars": ["error", { argsIgnorePattern: "^_", ignoreRestSiblings: true }],
      eqeqeq: "error",
      "prefer-const": "error",
      "no-var": "error",
      "object-shorthand": "error",
    },
  },
];
