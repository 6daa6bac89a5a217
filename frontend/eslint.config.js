import { readdirSync } from "node:fs";
import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** Every folder is a feature, also the next one. */
const features = readdirSync(new URL("src/features", import.meta.url));

/** Features never import each other, and others enter a feature by its index only. */
const featureRules = features.map((name) => ({
  files: [`src/features/${name}/**`],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          {
            group: ["**/features/*", "../../!(shared|api|test)/**", "**/app/*"],
            message: "A feature imports shared and api only, its tests also test.",
          },
        ],
      },
    ],
  },
}));

const only = (files, group, message) => ({
  files,
  rules: { "no-restricted-imports": ["error", { patterns: [{ group, message }] }] },
});

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts", "src/api/words.ts"] },
  ...tseslint.configs.strictTypeChecked,
  jsxA11y.flatConfigs.strict,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    plugins: { "react-hooks": reactHooks },
    rules: {
      ...reactHooks.configs.recommended.rules,
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
    },
  },
  { files: ["**/*.js", "*.config.ts"], ...tseslint.configs.disableTypeChecked },
  only(["src/shared/**"], ["**/features/**", "**/app/**"], "Shared knows no feature."),
  only(["src/api/**"], ["../*"], "The API client imports nothing of ours."),
  only(["src/app/**"], ["**/features/*/*"], "Enter a feature by its index."),
  ...featureRules,
);
