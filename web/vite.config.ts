import { copyFileSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, gzipSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** What is worked with at a battery, and what it is made of. */
const WORK = new RegExp(
  [
    "src/screens/(job|newjob|rules)/",
    "src/parts/(CautionLine|Chips|Dipstick|Explain|Ledger|NumberEntry|Posts)",
    "src/lib/(draft|first|settled|units)",
    "lucide-react/dist/esm/icons/delete",
    "@radix-ui/(primitive|react-(collapsible|collection|compose-refs|context|direction|id|presence|primitive|roving-focus|slot|toggle|toggle-group|use-[a-z-]+))/",
  ].join("|"),
);

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

/** Lays each program and style beside itself as small as it gets: once here, not at each request. */
function packed(): Plugin {
  return {
    name: "packed",
    apply: "build",
    closeBundle() {
      for (const file of readdirSync("dist/assets").filter((f) => /\.(js|css)$/.test(f))) {
        const path = join("dist/assets", file);
        writeFileSync(`${path}.br`, brotliCompressSync(readFileSync(path)));
      }
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
  plugins: [react(), tailwindcss(), docs(), packed(), weight()],
  build: {
    target: "es2023",
    assetsInlineLimit: 0,
    manifest: "manifest.json", // the server names ahead what a place needs
    rolldownOptions: {
      output: {
        codeSplitting: {
          includeDependenciesRecursively: false,
          groups: [
            {
              name: "vendor",
              test: /rolldown.runtime|node_modules\/(react|react-dom|scheduler|react-router|@tanstack|openapi-fetch)\//,
            },
            // One file for the work at a battery: a slow line pays for each request.
            { name: "work", test: WORK },
          ],
        },
      },
    },
  },
  server: { proxy: { "/api": `http://${process.env.GRAPNEL_ADDRESS ?? "127.0.0.1:8080"}` } },
});
