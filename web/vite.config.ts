import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** Names in the page what runs live, so that the worker keeps it at hand; nothing of it is fetched by that. */
function keepLive(): Plugin {
  return {
    name: "keep-live",
    transformIndexHtml: {
      order: "post",
      handler(_html, { bundle }) {
        const chunks = Object.values(bundle ?? {}).filter((part) => part.type === "chunk");
        const live = chunks.filter((chunk) => chunk.name === "live");
        const files = live.flatMap((chunk) => [chunk.fileName, ...chunk.imports]);
        const content = [...new Set(files)].map((file) => `/${file}`).join(" ");
        return content ? [{ tag: "meta", attrs: { name: "kept", content }, injectTo: "head" }] : [];
      },
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), keepLive()],
  worker: { format: "es" },
  build: { assetsInlineLimit: 0, modulePreload: { polyfill: false } },
});
