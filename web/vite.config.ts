import react from "@vitejs/plugin-react";
import { PurgeCSS } from "purgecss";
import { defineConfig, type Plugin } from "vite";

/** Of the component styles only those of components in use, with every variant and state their scripts may ask for. */
const USED =
  /^(btn|dropdown($|-(menu|menu-end|item|toggle)$)|modal|form-(control|select|check|range|switch)|offcanvas($|-(end|body|backdrop)$)|progress|fade|show|h[1-6]|ms-auto|visually-hidden)/;

const withoutUnused = (): Plugin => ({
  name: "without-unused",
  enforce: "pre",
  async transform(code, id) {
    if (!id.includes("bootstrap.min.css")) return null;
    const [result] = await new PurgeCSS().purge({
      content: ["index.html", "src/**/*.tsx"],
      css: [{ raw: code }],
      safelist: { standard: [USED], variables: [/./], keyframes: [/./], deep: [], greedy: [] },
    });
    return result?.css ?? null;
  },
});

export default defineConfig({
  plugins: [withoutUnused(), react()],
  base: "/static/",
  build: { outDir: "dist", assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
});
