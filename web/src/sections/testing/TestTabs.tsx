import { SectionTabs } from "../../shared/SectionTabs";

const TABS = [
  ["/test", "Tests"],
  ["/test/briefs", "Briefs"],
  ["/test/properties", "Compare properties"],
] as const;

export const TestTabs = () => <SectionTabs name="Tests" tabs={TABS} />;
