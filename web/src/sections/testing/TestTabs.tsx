import { SectionTabs } from "../../shared/SectionTabs";

const TABS = [
  ["/test", "Tests"],
  ["/test/briefs", "Briefs"],
  ["/test/properties", "Side by side"],
] as const;

export const TestTabs = () => <SectionTabs name="Tests" tabs={TABS} />;
