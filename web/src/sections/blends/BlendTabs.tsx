import { SectionTabs } from "../../shared/SectionTabs";

const TABS = [
  ["/blend", "Vats"],
  ["/blend/recipes", "Recipes and batches"],
  ["/blend/series", "Series"],
  ["/blend/after", "Estimate an unmeasured mix"],
] as const;

export const BlendTabs = () => <SectionTabs name="Blends" tabs={TABS} />;
