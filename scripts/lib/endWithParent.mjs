/** Loaded into a test process: it ends once the runner has let go of it, whatever a test has left open. */
process.on('disconnect', () => process.exit());
