import { SectionTabs } from "../../shared/SectionTabs";

const TABS = [
  ["/qualify", "Briefs and candidates"],
  ["/qualify/records", "Signed"],
  ["/qualify/open-formats", "Export and import"],
] as const;

export const QualifyTabs = ({ here }: { here?: string }) => <SectionTabs name="Qualify" tabs={TABS} here={here} />;
