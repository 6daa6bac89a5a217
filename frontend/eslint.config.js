import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

const features = ["session", "board", "jobs", "job", "quick", "rack", "rules", "shop"];

/** Features never import each other, and others enter a feature by its index only. */
const featureRules = features.map((name) => ({
  files: [`src/features/${name}/**`],
  rules: {
    "no-restricted-imports": [
      "error",
      { patterns: [{ group: ["**/features/*", "../../!(shared|api)/**", "**/app/*"], message: "A feature imports shared and api only." }] },
    ],
  },
}));

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  ...tseslint.configs.strict,
  { plugins: { "react-hooks": reactHooks }, rules: { ...reactHooks.configs.recommended.rules } },
  {
    files: ["src/shared/**"],
    rules: { "no-restricted-imports": ["error", { patterns: [{ group: ["**/features/**", "**/app/**"], message: "Shared knows no feature." }] }] },
  },
  {
    files: ["src/api/**"],
    rules: { "no-restricted-imports": ["error", { patterns: [{ group: ["../*"], message: "The API client imports nothing of ours." }] }] },
  },
  {
    files: ["src/app/**"],
    rules: { "no-restricted-imports": ["error", { patterns: [{ group: ["**/features/*/*"], message: "Enter a feature by its index." }] }] },
  },
  ...featureRules,
);
