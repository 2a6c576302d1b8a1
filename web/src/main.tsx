import "@fontsource/young-serif";
import "@fontsource-variable/atkinson-hyperlegible-next";
import "bootstrap/dist/css/bootstrap.min.css";
import "./ui/style/room.css";
import "./ui/style/frame.css";
import "./ui/style/parts.css";
import "./ui/style/steps.css";
import "./features/look/look.css";
import "./features/mix/mix.css";
import "./features/work/work.css";
import "./ui/style/print.css";
import "./ui/style/tablet.css";
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
