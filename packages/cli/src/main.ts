import { run } from './program';

// Decoders tell the console what they throw as well; what people are to see goes to the two outputs directly.
console.error = console.warn = () => {};

const status = await run(process.argv.slice(2));
// What was printed may still be on its way through a pipe: without a fault the program ends by itself.
if (status !== 0) process.exit(status);
