import { SectionTabs } from "../../shared/SectionTabs";

const TABS = [
  ["/shelf/resins", "Resins"],
  ["/shelf/bottles", "Bottles"],
  ["/shelf/printers", "Printers"],
  ["/shelf/finish-routes", "Finish routes"],
  ["/shelf/wash-baths", "Wash baths"],
  ["/shelf/coupons", "Coupons"],
  ["/shelf/in-use", "Settings in use"],
] as const;

export const ShelfTabs = ({ here }: { here: string }) => (
  <SectionTabs name="Kinds on the shelf" tabs={TABS} here={`/shelf/${here}`} />
);
