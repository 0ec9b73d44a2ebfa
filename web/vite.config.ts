import { copyFileSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** The most JavaScript that signing in and the floor may load, gzipped. */
const MOST_KB = 120;

/** Puts the viewer of the HTTP interface beside the build. */
function docs(): Plugin {
  return {
    name: "docs",
    apply: "build",
    closeBundle() {
      for (const file of ["swagger-ui.css", "swagger-ui-bundle.js"]) {
        copyFileSync(`node_modules/swagger-ui-dist/${file}`, `dist/docs/${file}`);
      }
      writeFileSync("dist/.keep", "");
    },
  };
}

/** Reports the first-load JavaScript and fails the build when it is too heavy. */
function weight(): Plugin {
  return {
    name: "weight",
    apply: "build",
    closeBundle() {
      const page = readFileSync("dist/index.html", "utf8");
      const first = readdirSync("dist/assets").filter((f) => f.endsWith(".js") && page.includes(f));
      const bytes = first.reduce((sum, f) => sum + gzipSync(readFileSync(join("dist/assets", f))).length, 0);
      const kb = bytes / 1000;
      console.log(`first-load JavaScript: ${kb.toFixed(1)} kB gzipped of ${MOST_KB} kB allowed`);
      if (kb > MOST_KB) throw new Error("first-load JavaScript is too heavy");
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), docs(), weight()],
  build: { target: "es2023", assetsInlineLimit: 0 },
  server: { proxy: { "/api": `http://${process.env.GRAPNEL_ADDRESS ?? "127.0.0.1:8080"}` } },
});
