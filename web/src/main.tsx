import "./tokens.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { queryClient } from "./api/hooks";
import { App } from "./app";
import { whenItStands } from "./live/whenItStands";
import { readTheme, setTheme } from "./parts/theme";

setTheme(readTheme());
if ("serviceWorker" in navigator && import.meta.env.PROD)
  whenItStands(() => void navigator.serviceWorker.register("/worker.js"));

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queryClient}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
