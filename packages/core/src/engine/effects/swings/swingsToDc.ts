const MUCH_FEEDBACK = 50;
/** From here on sidebands of a swing reach down to 0. */
const FAST_HZ = 5;

/** Whether a swing leaves a constant: what goes round rings at 0, too; fast swings put sidebands there. */
export const swingsToDc = ({ feedback, rateHz }: { feedback: number; rateHz: number }): boolean =>
  Math.abs(feedback) > MUCH_FEEDBACK || rateHz > FAST_HZ;
