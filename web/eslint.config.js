import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import globals from "globals";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/app/schema.d.ts"] },
  js.configs.recommended,
  ts.configs.recommended,
  {
    plugins: { "react-hooks": hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      "max-len": [
        "error",
        { code: 100, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true },
      ],
    },
    languageOptions: { globals: globals.browser },
  },
);
