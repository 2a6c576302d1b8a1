import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { useSession } from "../api/queries";
import { AccountPage } from "../features/account/AccountPage";
import { EnterPage } from "../features/account/EnterPage";
import { SignInPage } from "../features/account/SignInPage";
import { TransferPage } from "../features/look/TransferPage";
import { PiecesPage } from "../features/pieces/PiecesPage";
import { TrayPage } from "../features/tray/TrayPage";
import { PrintPage } from "../features/work/PrintPage";
import { KeysProvider } from "../ui/keys";
import { PieceFrame, PrintFrame } from "./PieceFrame";
import { Shell } from "./Shell";

const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } },
});

export function App() {
  return (
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <KeysProvider>
          <Routes>
            <Route path="/enter/:token" element={<EnterPage />} />
            <Route path="*" element={<Gate />} />
          </Routes>
        </KeysProvider>
      </BrowserRouter>
    </QueryClientProvider>
  );
}

function Gate() {
  const session = useSession();
  if (session.isPending) return <main className="wait">Opening…</main>;
  if (!session.data?.name) {
    return (
      <Routes>
        <Route path="/sign-in" element={<SignInPage />} />
        <Route path="*" element={<Navigate to="/sign-in" replace />} />
      </Routes>
    );
  }
  const artist = session.data.name;
  return (
    <Routes>
      <Route
        path="/"
        element={
          <Shell artist={artist}>
            <PiecesPage />
          </Shell>
        }
      />
      <Route
        path="/tray"
        element={
          <Shell artist={artist}>
            <TrayPage />
          </Shell>
        }
      />
      <Route
        path="/account"
        element={
          <Shell artist={artist}>
            <AccountPage artist={artist} />
          </Shell>
        }
      />
      <Route path="/pieces/:id/print" element={<PrintFrame page={PrintPage} />} />
      <Route path="/pieces/:id/transfer" element={<PrintFrame page={TransferPage} />} />
      <Route path="/pieces/:id/:step" element={<PieceFrame artist={artist} />} />
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}
