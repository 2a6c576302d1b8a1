import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { useSession } from "../api/queries";
import { Failed } from "../ui/Failed";
import { KeysProvider } from "../ui/keys";
import { Shell } from "./Shell";

// What is not shown at first is fetched when it is entered.
const EnterPage = lazy(() =>
  import("../features/account/EnterPage").then((held) => ({ default: held.EnterPage })),
);
const SignInPage = lazy(() =>
  import("../features/account/SignInPage").then((held) => ({ default: held.SignInPage })),
);
const PieceFrame = lazy(() => import("./PieceFrame").then((held) => ({ default: held.PieceFrame })));
const PrintFrame = lazy(() => import("./PieceFrame").then((held) => ({ default: held.PrintFrame })));
const PiecesPage = lazy(() =>
  import("../features/pieces/PiecesPage").then((held) => ({ default: held.PiecesPage })),
);
const AccountPage = lazy(() =>
  import("../features/account/AccountPage").then((held) => ({ default: held.AccountPage })),
);
const TrayPage = lazy(() => import("../features/tray/TrayPage").then((held) => ({ default: held.TrayPage })));
const ComplexionsPage = lazy(() =>
  import("../features/complexions/ComplexionsPage").then((held) => ({ default: held.ComplexionsPage })),
);
const NotebookPage = lazy(() =>
  import("../features/notebook/NotebookPage").then((held) => ({ default: held.NotebookPage })),
);
const PracticePage = lazy(() =>
  import("../features/practice/PracticePage").then((held) => ({ default: held.PracticePage })),
);
const TransferPage = lazy(() =>
  import("../features/look/TransferPage").then((held) => ({ default: held.TransferPage })),
);
const PrintPage = lazy(() =>
  import("../features/work/PrintPage").then((held) => ({ default: held.PrintPage })),
);

const queries = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, refetchOnWindowFocus: false },
    // Without a connection a write says so at once instead of waiting in silence; the editor keeps what is drawn.
    mutations: { networkMode: "always" },
  },
});

export function App() {
  return (
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <KeysProvider>
          <Suspense fallback={<main className="wait">Opening…</main>}>
            <Routes>
              <Route path="/enter/:token" element={<EnterPage />} />
              <Route path="*" element={<Gate />} />
            </Routes>
          </Suspense>
        </KeysProvider>
      </BrowserRouter>
    </QueryClientProvider>
  );
}

function Gate() {
  const session = useSession();
  if (session.isPending) return <main className="wait">Opening…</main>;
  if (!session.data && session.error)
    return <Failed error={session.error} onAgain={() => void session.refetch()} />;
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
          <Shell artist={artist} title="Pieces">
            <PiecesPage />
          </Shell>
        }
      />
      <Route
        path="/tray"
        element={
          <Shell artist={artist} title="Tray">
            <TrayPage />
          </Shell>
        }
      />
      <Route
        path="/complexions"
        element={
          <Shell artist={artist} title="Complexions">
            <ComplexionsPage artist={artist} />
          </Shell>
        }
      />
      <Route
        path="/notebook"
        element={
          <Shell artist={artist} title="Notebook">
            <NotebookPage />
          </Shell>
        }
      />
      <Route
        path="/practice"
        element={
          <Shell artist={artist} title="Practice">
            <PracticePage />
          </Shell>
        }
      />
      <Route
        path="/account"
        element={
          <Shell artist={artist} title="Your account">
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
