import { useState } from "react";

/**
 * What stood when a form was opened. A form sends the version it was opened on, not the one that was fetched since: else what
 * somebody else saved meanwhile would be written over unseen.
 */
export const useOpened = <Value>(value: Value): Value => useState(value)[0];
