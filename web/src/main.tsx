import "@fontsource/atkinson-hyperlegible-next/400.css";
import "@fontsource/atkinson-hyperlegible-next/400-italic.css";
import "@fontsource/atkinson-hyperlegible-next/600.css";
import "@fontsource/atkinson-hyperlegible-next/700.css";
import "@fontsource/atkinson-hyperlegible-mono/400.css";
import "@fontsource/atkinson-hyperlegible-mono/700.css";
import "./app/theme.scss";
import "./app/layout.scss";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Shell } from "./app/Shell";
import { ShortcutProvider } from "./app/shortcuts";
import PairPage from "./app/people/PairPage";
import { TechnicianProvider } from "./app/people/technician";
import { Toasts } from "./app/toasts";
import { ApiError } from "./shared/api/client";
import { NotHere } from "./app/NotHere";

const BoardPage = lazy(() => import("./sections/board/BoardPage"));
const ShelfPage = lazy(() => import("./sections/shelf/ShelfPage"));
const CouponKindPage = lazy(() => import("./sections/shelf/CouponKindPage"));
const PlatePage = lazy(() => import("./sections/shelf/PlatePage"));
const CouponsPage = lazy(() => import("./sections/shelf/CouponsPage"));
const CalibrationsPage = lazy(() => import("./sections/calibrate/CalibrationsPage"));
const NewCalibrationPage = lazy(() => import("./sections/calibrate/NewCalibrationPage"));
const CalibrationPage = lazy(() => import("./sections/calibrate/CalibrationPage"));
const LadderPage = lazy(() => import("./sections/calibrate/LadderPage"));
const ReadingPage = lazy(() => import("./sections/reading/ReadingPage"));
const PrinterPage = lazy(() => import("./sections/shelf/PrinterPage"));
const GuidePage = lazy(() => import("./sections/blends/GuidePage"));
const InUsePage = lazy(() => import("./sections/earlier/InUsePage"));
const InUseFormPage = lazy(() => import("./sections/earlier/InUseFormPage"));
const InUseOnePage = lazy(() => import("./sections/earlier/InUseOnePage"));
const OpinionPage = lazy(() => import("./sections/earlier/OpinionPage"));
const PracticePage = lazy(() => import("./sections/practice/PracticePage"));
const RoundPage = lazy(() => import("./sections/practice/RoundPage"));
const StudiesPage = lazy(() => import("./sections/practice/StudiesPage"));
const PlanStudyPage = lazy(() => import("./sections/practice/PlanStudyPage"));
const StudyPage = lazy(() => import("./sections/practice/StudyPage"));
const StudyTurnPage = lazy(() => import("./sections/practice/StudyTurnPage"));
const OwnCouponsPage = lazy(() => import("./sections/earlier/OwnCouponsPage"));
const OwnCouponFormPage = lazy(() => import("./sections/earlier/OwnCouponFormPage"));
const BorrowPage = lazy(() => import("./sections/earlier/BorrowPage"));
const TablePage = lazy(() => import("./sections/earlier/TablePage"));
const PlanPage = lazy(() => import("./sections/plan/PlanPage"));
const WhyListPage = lazy(() => import("./sections/trace/WhyListPage"));
const WhyPage = lazy(() => import("./sections/trace/WhyPage"));
const MaterialPage = lazy(() => import("./sections/shelf/MaterialPage"));
const BlindPage = lazy(() => import("./sections/reading/BlindPage"));
const LogPage = lazy(() => import("./sections/prints/LogPage"));
const StartPrintPage = lazy(() => import("./sections/prints/StartPrintPage"));
const PrintPage = lazy(() => import("./sections/prints/PrintPage"));
const EvidencePage = lazy(() => import("./sections/prints/EvidencePage"));
const FinishPage = lazy(() => import("./sections/prints/FinishPage"));
const VatsPage = lazy(() => import("./sections/blends/VatsPage"));
const VatPage = lazy(() => import("./sections/blends/VatPage"));
const RecipesPage = lazy(() => import("./sections/blends/RecipesPage"));
const NewRecipePage = lazy(() => import("./sections/blends/NewRecipePage"));
const BlendPage = lazy(() => import("./sections/blends/BlendPage"));
const BatchPage = lazy(() => import("./sections/blends/BatchPage"));
const SeriesListPage = lazy(() => import("./sections/blends/SeriesPages"));
const SeriesPage = lazy(() => import("./sections/blends/SeriesPage"));
const AfterPage = lazy(() => import("./sections/blends/AfterPage"));
const TestsPage = lazy(() => import("./sections/testing/TestsPage"));
const PlanTestPage = lazy(() => import("./sections/testing/PlanTestPage"));
const TestPage = lazy(() => import("./sections/testing/TestPage"));
const BenchPage = lazy(() => import("./sections/testing/BenchPage"));
const BriefsPage = lazy(() => import("./sections/testing/BriefsPage"));
const ComparePropertiesPage = lazy(() => import("./sections/testing/ComparePropertiesPage"));
const TracePage = lazy(() => import("./sections/climate/TracePage"));
const ImportPage = lazy(() => import("./sections/climate/ImportPage"));
const WarmStartPage = lazy(() => import("./sections/climate/WarmStartPage"));
const WarmRunPage = lazy(() => import("./sections/climate/WarmRunPage"));
const FlowPage = lazy(() => import("./sections/climate/FlowPage"));
const ExposurePage = lazy(() => import("./sections/climate/ExposurePage"));
const SuccessPage = lazy(() => import("./sections/climate/SuccessPage"));
const QualifyPage = lazy(() => import("./sections/qualify/QualifyPage"));
const CandidatesPage = lazy(() => import("./sections/qualify/CandidatesPage"));
const VerdictPage = lazy(() => import("./sections/qualify/VerdictPage"));
const RecordsPage = lazy(() => import("./sections/qualify/RecordsPage"));
const BundlesPage = lazy(() => import("./sections/qualify/BundlesPage"));
const RecordPage = lazy(() => import("./sections/qualify/RecordPage"));
const StartPage = lazy(() => import("./sections/start/StartPage"));
const FirstBenchPage = lazy(() => import("./sections/start/BenchPage"));
const BringRecordsPage = lazy(() => import("./sections/start/RecordsPage"));
const BottlePage = lazy(() => import("./sections/shelf/BottlePage"));
const SettingsPage = lazy(() => import("./sections/lab/SettingsPage"));
const PeoplePage = lazy(() => import("./sections/lab/PeoplePage"));
const AtHandPage = lazy(() => import("./sections/lab/AtHandPage"));
const AtCodePage = lazy(() => import("./sections/lab/AtCodePage"));
const InstrumentsPage = lazy(() => import("./sections/lab/InstrumentsPage"));
const WaitingPage = lazy(() => import("./sections/lab/WaitingPage"));
const ActivityPage = lazy(() => import("./sections/lab/ActivityPage"));
const GlossaryPage = lazy(() => import("./sections/lab/GlossaryPage"));
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
      { path: "/shelf/printers/:id/plate", element: <PlatePage /> },
      { path: "/shelf/coupons/:kind", element: <CouponKindPage /> },
      { path: "/shelf/:kind", element: <ShelfPage /> },
      { path: "/calibrate", element: <CalibrationsPage /> },
      { path: "/calibrate/new", element: <NewCalibrationPage /> },
      { path: "/calibrate/:id", element: <CalibrationPage /> },
      { path: "/calibrate/:id/pictures", element: <LadderPage /> },
      { path: "/coupons/:code", element: <ReadingPage /> },
      { path: "/printers/:id", element: <PrinterPage /> },
      { path: "/printers/:id/guides/:key", element: <GuidePage /> },
      { path: "/materials/:id", element: <MaterialPage /> },
      { path: "/bottles/:code", element: <BottlePage /> },
      { path: "/start", element: <StartPage /> },
      { path: "/start/bench", element: <FirstBenchPage /> },
      { path: "/start/records", element: <BringRecordsPage /> },
      { path: "/lab", element: <SettingsPage /> },
      { path: "/pair", element: <PairPage /> },
      { path: "/lab/people", element: <PeoplePage /> },
      { path: "/at-hand", element: <AtHandPage /> },
      { path: "/at/:code", element: <AtCodePage /> },
      { path: "/lab/instruments", element: <InstrumentsPage /> },
      { path: "/waiting", element: <WaitingPage /> },
      { path: "/lab/activity", element: <ActivityPage /> },
      { path: "/lab/glossary", element: <GlossaryPage /> },
      { path: "/practice", element: <PracticePage /> },
      { path: "/practice/rounds/:id", element: <RoundPage /> },
      { path: "/practice/studies", element: <StudiesPage /> },
      { path: "/practice/studies/new", element: <PlanStudyPage /> },
      { path: "/practice/studies/:code", element: <StudyPage /> },
      { path: "/practice/studies/:code/read", element: <StudyTurnPage /> },
      { path: "/blind/:id", element: <BlindPage /> },
      { path: "/sets/:code", element: <SetPage /> },
      { path: "/qualify", element: <QualifyPage /> },
      { path: "/qualify/records", element: <RecordsPage /> },
      { path: "/qualify/records/:code", element: <RecordPage /> },
      { path: "/qualify/open-formats", element: <BundlesPage /> },
      { path: "/qualify/:brief", element: <CandidatesPage /> },
      { path: "/qualify/:brief/:set", element: <VerdictPage /> },
      { path: "/climate", element: <TracePage /> },
      { path: "/climate/import", element: <ImportPage /> },
      { path: "/climate/warm-start", element: <WarmStartPage /> },
      { path: "/climate/warm-start/:code", element: <WarmRunPage /> },
      { path: "/climate/flow", element: <FlowPage /> },
      { path: "/climate/exposure", element: <ExposurePage /> },
      { path: "/climate/success", element: <SuccessPage /> },
      { path: "/blend", element: <VatsPage /> },
      { path: "/blend/vat/:id", element: <VatPage /> },
      { path: "/blend/recipes", element: <RecipesPage /> },
      { path: "/blend/recipes/:id", element: <BlendPage /> },
      { path: "/blend/new", element: <NewRecipePage /> },
      { path: "/blend/batches/:code", element: <BatchPage /> },
      { path: "/blend/series", element: <SeriesListPage /> },
      { path: "/blend/series/:code", element: <SeriesPage /> },
      { path: "/blend/after", element: <AfterPage /> },
      { path: "/test", element: <TestsPage /> },
      { path: "/test/new", element: <PlanTestPage /> },
      { path: "/test/briefs", element: <BriefsPage /> },
      { path: "/test/properties", element: <ComparePropertiesPage /> },
      { path: "/test/:code", element: <TestPage /> },
      { path: "/test/:code/:specimen", element: <BenchPage /> },
      { path: "/log", element: <LogPage /> },
      { path: "/log/new", element: <StartPrintPage /> },
      { path: "/log/evidence", element: <EvidencePage /> },
      { path: "/plan", element: <PlanPage /> },
      { path: "/shelf/in-use", element: <InUsePage /> },
      { path: "/shelf/in-use/new", element: <InUseFormPage /> },
      { path: "/shelf/in-use/table", element: <TablePage /> },
      { path: "/calibrate/opinion", element: <OpinionPage /> },
      { path: "/shelf/coupons/own", element: <OwnCouponsPage /> },
      { path: "/shelf/coupons/own/new", element: <OwnCouponFormPage /> },
      { path: "/shelf/coupons/own/:code", element: <OwnCouponFormPage /> },
      { path: "/shelf/in-use/borrow", element: <BorrowPage /> },
      { path: "/shelf/in-use/:code", element: <InUseOnePage /> },
      { path: "/shelf/in-use/:code/change", element: <InUseFormPage /> },
      { path: "/log/why", element: <WhyListPage /> },
      { path: "/log/why/:code", element: <WhyPage /> },
      { path: "/log/:code", element: <PrintPage /> },
      { path: "/log/:code/finish", element: <FinishPage /> },
      { path: "*", element: <NotHere /> },
    ],
  },
]);

// index.html has it.
// eslint-disable-next-line @typescript-eslint/no-non-null-assertion
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
