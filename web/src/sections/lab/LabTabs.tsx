import { SectionTabs } from "../../shared/SectionTabs";

const TABS = [
  ["/lab", "Settings"],
  ["/lab/people", "People"],
  ["/lab/activity", "What changed"],
  ["/lab/glossary", "Words"],
] as const;

export const LabTabs = () => <SectionTabs name="This lab" tabs={TABS} />;
