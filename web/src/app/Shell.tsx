import { Suspense, useCallback, useEffect, useRef, useState } from "react";
import { NavLink, Outlet, useLocation, useSearchParams } from "react-router";
import { DemoMark } from "./DemoMark";
import { Finder } from "./Finder";
import { KeyHelp } from "./KeyHelp";
import { Offline } from "./Offline";
import { PageBoundary } from "./PageBoundary";
import { RecordsBanner } from "./RecordsBanner";
import { RoomNow } from "./RoomNow";
import { SectionsNav } from "./SectionsNav";
import { useShownShortcuts } from "./shortcuts";
import { CertificateEnds } from "./people/CertificateEnds";
import { ClockOff } from "./people/ClockOff";
import { OwnPasswordFirst } from "./people/OwnPasswordFirst";
import PairPage from "./people/PairPage";
import { SignInPage } from "./people/SignInPage";
import { useTechnician } from "./people/technician";
import { TechnicianMenu } from "./people/TechnicianMenu";
import { Timers } from "./Timers";
import { Together } from "./Together";
import { useInstruments } from "./useInstruments";
import { useShellKeys } from "./useShellKeys";
import { useTopOfPage } from "./useTopOfPage";
import { WhoIsWorking } from "./people/WhoIsWorking";
import { useGet } from "../shared/api/useGet";
import { followLab, formIsKnown, useLabForm } from "../shared/labForm";
import "./shell.scss";

/** Top bar in the order of work, keys of the page at the foot, finder and key list over both. */
export function Shell() {
  const [finding, setFinding] = useState<string | null>(null);
  const [helping, setHelping] = useState(false);
  const help = useCallback(() => setHelping(true), []);
  const page = useShownShortcuts();
  const [search] = useSearchParams();
  const { pathname } = useLocation();
  const scanned = search.get("find");
  // A label's QR code leads here with what to find.
  useEffect(() => {
    if (scanned !== null) setFinding(scanned);
  }, [scanned]);
  useShellKeys(setFinding, help);
  useTopOfPage();
  useInstruments();
  const { session, isKnown } = useTechnician();
  const mustSignIn = session?.asks && !session.signed_in;
  // Once somebody worked here the page stays, with what was typed: who is let in no more signs in over it.
  const wasIn = useRef(false);
  if (isKnown && !mustSignIn) wasIn.current = true;
  const isOut = mustSignIn && !wasIn.current;
  const settings = useGet("/api/lab-settings", isKnown && !mustSignIn ? {} : null);
  useLabForm();
  // In a browser that was never here the first page waits for how the lab writes numbers: drawn twice, it would forget what was typed.
  const [isReady, setReady] = useState(formIsKnown);
  useEffect(() => {
    if (settings.data) followLab(settings.data);
    if (!settings.isPending) setReady(true);
  }, [settings.data, settings.isPending]);
  return (
    <>
      <a href="#main" className="visually-hidden-focusable position-absolute p-2 panel">
        Skip to content
      </a>
      <header className={isOut ? "topbar bare" : "topbar"}>
        <NavLink to="/board" className="brand" aria-label="Setback, to the Board">
          <svg width="34" height="12" viewBox="0 0 34 12" aria-hidden="true">
            <rect width="12" height="12" />
            <rect x="15" y="2" width="8" height="8" />
            <rect x="27" y="3" width="5" height="6" />
          </svg>
          <span>Setback</span>
        </NavLink>
        {!isOut && <SectionsNav />}
        {!isOut && (
          <div className="side">
            <DemoMark />
            <button
              type="button"
              className="btn btn-primary"
              aria-label="Find anything"
              title="Find anything (/)"
              onClick={() => setFinding("")}
            >
              <svg
                width="16"
                height="16"
                viewBox="0 0 16 16"
                fill="none"
                stroke="currentColor"
                strokeWidth="2"
                aria-hidden="true"
              >
                <circle cx="6.5" cy="6.5" r="5" />
                <path d="m10.5 10.5 4.5 4.5" />
              </svg>
            </button>
            <Timers />
            <RoomNow />
            <Together />
            <TechnicianMenu />
          </div>
        )}
      </header>
      <main id="main" tabIndex={-1}>
        <Offline />
        {isOut && (pathname === "/pair" ? <PairPage /> : <SignInPage />)}
        {wasIn.current && (
          <>
            <RecordsBanner />
            <ClockOff />
            <CertificateEnds />
            <OwnPasswordFirst />
            <PageBoundary>
              <Suspense fallback={null}>{isReady && <Outlet />}</Suspense>
            </PageBoundary>
          </>
        )}
      </main>
      {!isOut && (
        <footer className="keybar no-print" aria-label="Keys">
          {page
            .filter((one) => one.does)
            .map((one) => (
              <span key={one.keys}>
                <span className="kbd">{one.keys}</span> {one.does}
              </span>
            ))}
          <span>
            <span className="kbd">/</span> find anything
          </span>
          <span>
            <span className="kbd">?</span> help and keys
          </span>
        </footer>
      )}
      <Finder start={isOut ? null : finding} onClose={() => setFinding(null)} />
      <WhoIsWorking />
      <KeyHelp show={helping} onClose={() => setHelping(false)} />
    </>
  );
}
