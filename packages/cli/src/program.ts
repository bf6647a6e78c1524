import { Command, CommanderError, InvalidArgumentError } from 'commander';
import { InputError } from '@imprint/core/patch/inputError';

/** Numbers on the command line: anything else is a one-line error. */
function number(text: string): number {
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value))
    throw new InvalidArgumentError('a number is expected, such as 1.5.');
  return value;
}

/** Options that may be given several times. */
const collect = (text: string, before: string[]) => [...before, text];

/**
 * Runs the command line; what it has to say goes to the two outputs.
 *
 * @param words what follows the name of the program
 * @returns the status to end with: 0, 1 for a fault of the program, 2 for something to put right
 */
export async function run(words: readonly string[]): Promise<number> {
  try {
    await createProgram().parseAsync(words, { from: 'user' });
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) {
      return error.exitCode === 0 ? 0 : refused(error.message.replace(/^error: /, ''));
    }
    if (error instanceof InputError) return refused(error.message);
    process.stderr.write(`${(error as Error).stack ?? String(error)}\n`);
    return 1;
  }
}

function refused(message: string): number {
  process.stderr.write(`imprint: ${message.split('\n')[0]}\n`);
  return 2;
}

// What several commands take.
const FROM = ['--from <seconds>', 'start of the span', number] as const;
const TO = ['--to <seconds>', 'end of the span', number] as const;
const KEEP = [
  '--keep <parts>',
  'what is kept of the sound: band=40-1200,place=mid,kind=tonal,partials,sub,hits; or suggested',
] as const;
const JSON_OUT = ['--json', 'one JSON document on standard output'] as const;

// Each command is loaded when it is called, so that the start stays short.
function createProgram(): Command {
  const program = new Command('imprint')
    .description('Measures a tone, rebuilds it as a synthesizer patch and compares the two.')
    .exitOverride()
    .configureOutput({ outputError: () => {} });

  program
    .command('read')
    .description('measures a file or a span of it')
    .argument('<file>', 'WAV, AIFF, FLAC, MP3, Ogg Vorbis or Opus')
    .option(...FROM)
    .option(...TO)
    .option(...KEEP)
    .option(...JSON_OUT)
    .action(async (file, options) => (await import('./commands/read')).read(file, options));

  program
    .command('render')
    .description('prints a patch')
    .argument('<patch>', 'a patch as JSON')
    .option('--notes <file>', 'a MIDI file to play')
    .option('--note <number>', 'one MIDI note to play', number)
    .option('--seconds <seconds>', 'how long the one note is held', number, 2)
    .requiredOption('--out <file>', 'the WAV file to write')
    .option('--rate <hz>', 'sampling rate', number, 44100)
    .option(...JSON_OUT)
    .action(async (patch, options) => (await import('./commands/render')).render(patch, options));

  program
    .command('match')
    .description('rebuilds the tone of a file or span; writes patch.json, proof.wav, recipe.md and report.json')
    .argument('<file>', 'the reference')
    .option(...FROM)
    .option(...TO)
    .option('--cut <span>', 'start-end in seconds; several are matched together, the first is printed', collect, [])
    .option('--budget <seconds>', 'time that may be spent', number)
    .option('--renders <number>', 'renders that the search may take', number)
    .option('--from-patch <file>', 'a patch to start from in place of what the evidence says')
    .option('--lock <path>', 'a module, module.parameter or stage that stays as it is', collect, [])
    .option('--only <stage>', 'turn numbers of this stage only', collect, [])
    .option('--structure <kind>', 'plain, copy, mixed or any', 'any')
    .option(...KEEP)
    .option('--out <folder>', 'folder to write to', '.')
    .option('--seed <number>', 'seed of everything random', number, 1)
    .option('--json', 'the report on standard output')
    .action(async (file, options) => (await import('./commands/match')).match(file, options));

  program
    .command('compare')
    .description('counts the gaps between two files')
    .argument('<reference>', 'the reference')
    .argument('<proof>', 'the proof')
    .option(...JSON_OUT)
    .action(async (reference, proof, options) =>
      (await import('./commands/compare')).compare(reference, proof, options),
    );

  program
    .command('backup')
    .description('writes everything in the database to one archive file')
    .argument('<file>', 'the archive to write')
    .option(...JSON_OUT)
    .action(async (file, options) => (await import('./commands/backup')).backup(file, options));

  program
    .command('restore')
    .description('brings everything in an archive back, in the place of what is there')
    .argument('<file>', 'an archive that `backup` or the page wrote')
    .option(...JSON_OUT)
    .action(async (file, options) => (await import('./commands/restore')).restore(file, options));

  return program;
}
