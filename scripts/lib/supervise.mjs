const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 30_000;
/** What ran this long had started well. */
const WELL_MS = 60_000;

/**
 * Keeps something running: when it ends by itself it is started again, after pauses that grow as long as it
 * does not last.
 *
 * @param {string} name how people are told of it
 * @param {(before?: object) => Promise<{ stop(): Promise<void>, exited: Promise<unknown> }>} start is given
 *   what ran before, so that what comes after has the same address
 * @param {(running: object) => void} onStarted called with what runs, each time
 * @returns `stop`, which ends it for good
 */
export async function supervise(name, start, onStarted = () => {}) {
  let running = await start();
  let stopping = false;
  let wake = () => {};
  const watch = async () => {
    let pauseMs = FIRST_PAUSE_MS;
    for (;;) {
      const begun = Date.now();
      onStarted(running);
      await running.exited;
      if (stopping) return;
      if (Date.now() - begun > WELL_MS) pauseMs = FIRST_PAUSE_MS;
      for (let started = false; !started && !stopping;) {
        console.error(`The ${name} ended by itself; it is started again.`);
        await new Promise((resolve) => {
          wake = resolve;
          setTimeout(resolve, pauseMs);
        });
        pauseMs = Math.min(LONGEST_PAUSE_MS, 2 * pauseMs);
        if (stopping) return;
        try {
          running = await start(running);
          started = true;
        } catch (error) {
          console.error(error.message);
        }
      }
      if (stopping) {
        await running.stop();
        return;
      }
    }
  };
  const watching = watch();
  return {
    async stop() {
      stopping = true;
      wake();
      await running.stop();
      await watching;
    },
  };
}
