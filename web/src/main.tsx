import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { AppShell } from "./app/AppShell";
import "./styles.css";

const client = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, retry: 1 } } });

const root = document.getElementById("root");
if (!root) throw new Error("the page has no place for the application");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <AppShell />
    </QueryClientProvider>
  </StrictMode>,
);
