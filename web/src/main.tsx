import "@fontsource/young-serif";
import "@fontsource-variable/atkinson-hyperlegible-next";
import "bootstrap/dist/css/bootstrap.min.css";
import "./ui/style.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./app/App";

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
}
