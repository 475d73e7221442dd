import "@fontsource/atkinson-hyperlegible-next/400.css";
import "@fontsource/atkinson-hyperlegible-next/400-italic.css";
import "@fontsource/atkinson-hyperlegible-next/600.css";
import "@fontsource/atkinson-hyperlegible-next/700.css";
import "@fontsource/atkinson-hyperlegible-mono/400.css";
import "@fontsource/atkinson-hyperlegible-mono/700.css";
import "./app/theme.scss";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Shell } from "./app/Shell";
import { ShortcutProvider } from "./app/shortcuts";
import { TechnicianProvider } from "./app/technician";
import { Toasts } from "./app/toasts";
import { ApiError } from "./shared/api/client";
import { NotHere } from "./app/NotHere";

const BoardPage = lazy(() => import("./sections/board/BoardPage"));
const ShelfPage = lazy(() => import("./sections/shelf/ShelfPage"));
const CouponsPage = lazy(() => import("./sections/shelf/CouponsPage"));
const CalibrationsPage = lazy(() => import("./sections/calibrate/CalibrationsPage"));
const NewCalibrationPage = lazy(() => import("./sections/calibrate/NewCalibrationPage"));
const CalibrationPage = lazy(() => import("./sections/calibrate/CalibrationPage"));
const ReadingPage = lazy(() => import("./sections/reading/ReadingPage"));
const SetPage = lazy(() => import("./sections/sets/SetPage"));

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 2_000,
      retry: (count, error) => count < 2 && !(error instanceof ApiError && error.status >= 400 && error.status < 500),
    },
  },
});

const router = createBrowserRouter([
  {
    element: <Shell />,
    children: [
      { path: "/", element: <Navigate to="/board" replace /> },
      { path: "/board", element: <BoardPage /> },
      { path: "/shelf", element: <Navigate to="/shelf/resins" replace /> },
      { path: "/shelf/coupons", element: <CouponsPage /> },
      { path: "/shelf/:kind", element: <ShelfPage /> },
      { path: "/calibrate", element: <CalibrationsPage /> },
      { path: "/calibrate/new", element: <NewCalibrationPage /> },
      { path: "/calibrate/:id", element: <CalibrationPage /> },
      { path: "/coupons/:code", element: <ReadingPage /> },
      { path: "/sets/:code", element: <SetPage /> },
      { path: "*", element: <NotHere /> },
    ],
  },
]);

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <TechnicianProvider>
        <Toasts>
          <ShortcutProvider>
            <RouterProvider router={router} />
          </ShortcutProvider>
        </Toasts>
      </TechnicianProvider>
    </QueryClientProvider>
  </StrictMode>,
);
