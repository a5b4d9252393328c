import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { startTheme } from "@/shared/look/theme";
import { Boundary } from "@/shared/ui/Boundary";
import { Loading } from "@/shared/ui/State";
import { BoardView } from "./BoardView";
import { connect, useSecond } from "./board";
import { Knock } from "./Knock";
import "@/shared/look/theme.css";

function Second() {
  const { state, board } = useSecond();
  if (state === "out") return <Knock />;
  return board ? <BoardView board={board} /> : <Loading what="the board" />;
}

startTheme();
void connect();
const root = document.getElementById("root");
if (!root) throw new Error("The page has no root.");
createRoot(root).render(
  <StrictMode>
    <Boundary what="The page">
      <Second />
    </Boundary>
  </StrictMode>,
);
