/** A calibration as the server gives it, for component tests. */
import type { Schemas } from "../../shared/api/client";
import type { Arm, Calibration } from "./model";

export const card = (changes: object = {}): Schemas["CouponCard"] =>
  ({
    id: "k", code: "103N", kind: "flat", design_id: "d", exposure_s: 2.4, effective_s: 2.4, status: "planned", verdict: null, left_out: false, included: false, print_id: "p", print_code: "J-003", way: "separate",
    faults: [], findings: [], growth_um: null, walls: null, slots: null, tips: null, bloom_um: null, is_repeat: false, dose_ratio: null, range_only: false, blind: [], judgement: null, states: {}, photo_ids: [], ...changes,
  }) as unknown as Schemas["CouponCard"];

export const prediction = (exposure_s: number, changes: object = {}) => ({
  exposure_s, growth_um: 10 * exposure_s, growth_ci_um: [10 * exposure_s - 6, 10 * exposure_s + 6], tip_probability: 0.97, part_probability: null, walls_standing: 9.6, walls_of: 10, slots_open: 5.4, slots_of: 10, bloom_um: null,
  margin_lower_pct: 24, margin_upper_pct: 28, ...changes,
});

export const foundWindow = (changes: object = {}) =>
  ({
    window: { lower_s: 2.2, upper_s: 4.0, lower_from: "walls", upper_from: "slots", latitude_pct: 60 }, conflict: null, provisional: false, ladder_s: [1.5, 4.4], size_true_s: 2.6, balance_s: null,
    lanes: { size: { name: "Size", needs: "", place: 0 } }, policies: { "size-true": 2.6, centre: 2.9, "support-safe": null, "hardest-in-tolerance": 3.6 }, predictions: [prediction(2.6), prediction(2.9), prediction(3.6)],
    warnings: [], beyond_ladder: [], print_direction: [], open_side: null, ...changes,
  }) as unknown as Schemas["WindowResult"];

export const arm = (changes: object = {}): Arm =>
  ({ id: "a", number: 1, name: "as set", settings: { base_layers: 4, base_exposure_s: 24, rest_before_s: 1 }, coupons: [], to_print: [], to_read: [], next: [], missing: [], window: null, window_refused: null, stage: "range", range_only: null, seed: null, range_s: [1.5, 4], range_from: null, marks: [], ...changes }) as unknown as Arm;

export const calibration = (changes: object = {}): Calibration =>
  ({
    id: "c", code: "C-001", version: 3, material: "Slate 2", material_id: "m", printer: "Cormorant", printer_id: "r", layer_height_um: 50, exposure_step_s: 0.1, low_s: 1.5, high_s: 4, guard_band_pct: 5, limits: { tips_size_mm: 0.42, tips_per_part: null },
    arms: [arm()], plans: {}, sets: [], stages_done: [], under_way: {}, simulated: false, closed_at: null, temperature: null, temp_low_c: 22.4, temp_high_c: 23.9, delay_includes_motion: false, ...changes,
  }) as unknown as Calibration;
