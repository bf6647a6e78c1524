/** Stands for the file of a worker in tests, which run without threads. */
const noWorker = null;
export default noWorker;
