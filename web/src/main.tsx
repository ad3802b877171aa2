import "./tokens.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { queryClient } from "./api/hooks";
import { App } from "./app";
import { whenItStands } from "./live/whenItStands";
import { readTheme, showTheme } from "./parts/theme";

showTheme(readTheme());
// until it is chosen here, it follows the system
window.matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => showTheme(readTheme()));
if ("serviceWorker" in navigator && import.meta.env.PROD)
  whenItStands(() => void navigator.serviceWorker.register("/worker.js"));
// a page of an older build asks for a part that is no more: the newest page has it. Once, so that nothing goes round
window.addEventListener("vite:preloadError", () => {
  if (sessionStorage.getItem("perch.reloaded")) return;
  sessionStorage.setItem("perch.reloaded", "1");
  window.location.reload();
});

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queryClient}>
        {/* a screen that is still fetched is gone to at once, so that the beam's tabs are about it already */}
        <BrowserRouter useTransitions={false}>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
