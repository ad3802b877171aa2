import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      strategies: "injectManifest",
      srcDir: "src",
      filename: "worker.ts",
      // the page registers it itself, once what it asked for stands
      injectRegister: false,
      manifest: false,
      injectManifest: {
        globPatterns: [
          "index.html",
          "*.{svg,png,webmanifest}",
          "assets/*.{js,css}",
          "assets/*latin-wght*.woff2",
        ],
        // a finder of joints is fetched when a line is looked at, and needs its model beside it
        globIgnores: ["**/*latin-ext*", "**/finderWorker*", "**/vision_bundle*"],
        // built files carry their content's hash in their names
        dontCacheBustURLsMatching: /^assets\//,
        modifyURLPrefix: { "": "/" },
      },
    }),
  ],
  worker: { format: "es" },
  build: { assetsInlineLimit: 0, modulePreload: { polyfill: false } },
});
