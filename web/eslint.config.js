import js from "@eslint/js";
import prettier from "eslint-config-prettier";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import { defineConfig, globalIgnores } from "eslint/config";
import ts from "typescript-eslint";

export default defineConfig([
  globalIgnores(["node_modules", "dist", "src/shared/api/schema.d.ts"]),
  js.configs.recommended,
  ts.configs.recommended,
  a11y.flatConfigs.recommended,
  prettier,
  {
    plugins: { "react-hooks": hooks },
    rules: {
      // The two rules of hooks themselves; the plugin's others are for a compiler that is not used here.
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      // A dialog opens with its first field in focus, as a person with gloves on wants it.
      "jsx-a11y/no-autofocus": "off",
      // What cannot be missing is shown to be there, or says beside it why it is.
      "@typescript-eslint/no-non-null-assertion": "error",
      // A name with an underscore says that it is not used, and why it stands there.
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
    },
  },
  {
    files: ["**/*.test.ts", "**/*.test.tsx", "src/testing*"],
    rules: { "@typescript-eslint/no-non-null-assertion": "off" },
  },
]);
