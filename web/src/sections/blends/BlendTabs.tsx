import { SectionTabs } from "../../shared/SectionTabs";

const TABS = [
  ["/blend", "Vats"],
  ["/blend/recipes", "Recipes and batches"],
  ["/blend/series", "Series"],
  ["/blend/after", "Poured by eye"],
] as const;

export const BlendTabs = () => <SectionTabs name="Blends" tabs={TABS} />;
