import { SectionTabs } from "../../shared/SectionTabs";

const TABS = [
  ["/climate", "Log"],
  ["/climate/warm-start", "Warm start"],
  ["/climate/flow", "Viscosity"],
  ["/climate/exposure", "Exposure"],
  ["/climate/success", "Success"],
] as const;

export const ClimateTabs = ({ here }: { here?: string }) => <SectionTabs name="Climate" tabs={TABS} here={here} />;
