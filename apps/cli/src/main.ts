import { Command, CommanderError } from 'commander';
import { check } from './check';
import { type Output, STATUS } from './output';
import { validate } from './validate';

/** Runs the command line; returns the exit status. */
export async function run(argv: readonly string[], out: Output, err: Output): Promise<number> {
  let status: number = STATUS.well;
  const program = new Command('sobrin')
    .description('Checks labs and drawings from a shell, with the same core as the server.')
    .exitOverride()
    .configureOutput({ writeOut: (text) => out.write(text), writeErr: (text) => err.write(text) });
  program
    .command('check')
    .description('check submissions against a lab: sobrin check --lab LAB.json SUBMISSION.json…')
    .requiredOption('--lab <file>', 'the lab file (format "sobrin-lab")')
    .option('--json', 'print the findings as JSON')
    .argument('<submissions...>', 'submission or topology files')
    .action(async (files: string[], options: { lab: string; json?: boolean }) => {
      status = await check(options.lab, files, options.json ?? false, out, err);
    });
  program
    .command('validate')
    .description('say what is wrong in a topology, lab or submission file, and where')
    .argument('<file>')
    .action(async (file: string) => {
      status = await validate(file, out, err);
    });
  try {
    await program.parseAsync([...argv]);
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? STATUS.well : STATUS.unusable;
    throw error;
  }
  return status;
}
