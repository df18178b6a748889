import { DRAWING_FORMATS } from '@sobrin/core/formats';
import { Command, CommanderError } from 'commander';
import { info, next, split, summary } from './address';
import { check } from './check';
import { convert } from './convert';
import { type DiagnoseOptions, diagnoseAll } from './diagnose';
import { type DraftOptions, draftSpec } from './draft';
import { type DrillOptions, drillLab } from './drill';
import { type Question, type TraceQuestion, reach, signInAt, tables, traceOne } from './network';
import { type Output, STATUS } from './output';
import { validate } from './validate';

/** Runs the command line; returns the exit status. */
export async function run(
  argv: readonly string[],
  out: Output,
  err: Output,
  source: NodeJS.ReadableStream = process.stdin,
): Promise<number> {
  let status: number = STATUS.well;
  const program = new Command('sobrin')
    .description('Checks labs and drawings from a shell, with the same core as the server.')
    .exitOverride()
    .configureOutput({ writeOut: (text) => out.write(text), writeErr: (text) => err.write(text) });
  program
    .command('check')
    .description('check submissions against a lab: sobrin check --lab LAB.json SUBMISSION.json…')
    .requiredOption('--lab <file>', 'the lab file (format "sobrin-lab")')
    .option('--json', 'print the findings as JSON, all at the end')
    .option('--json-lines', 'print the findings as JSON, one line a submission as they come')
    .argument('<submissions...>', 'submission or topology files, or folders of them')
    .action(async (paths: string[], options: { lab: string; json?: boolean; jsonLines?: boolean }) => {
      status = await check(
        options.lab,
        paths,
        options.jsonLines ? 'json-lines' : options.json ? 'json' : 'text',
        out,
        err,
      );
    });
  program
    .command('diagnose')
    .description('say which few mistakes are behind what failed: sobrin diagnose --lab LAB.json SUBMISSION.json…')
    .requiredOption('--lab <file>', 'the lab file (format "sobrin-lab")')
    .option('--seconds <number>', 'end each search after so many seconds with what it has found')
    .option('--json', 'print JSON')
    .argument('<submissions...>', 'submission or topology files, or folders of them')
    .action(async (paths: string[], options: DiagnoseOptions) => {
      status = await diagnoseAll(options, paths, out, err);
    });
  program
    .command('validate')
    .description('say what is wrong in a topology, plan, lab or submission file, and where')
    .argument('<file>')
    .action(async (file: string) => {
      status = await validate(file, out, err);
    });
  program
    .command('convert')
    .description(
      `write a drawing in another format, told by the ending: ${DRAWING_FORMATS.map((format) => format.ending).join(' ')} .pdf, or a folder of CSV tables`,
    )
    .argument('<in>')
    .argument('<out>')
    .action(async (from: string, to: string) => {
      status = await convert(from, to, out, err);
    });
  program
    .command('draft-spec')
    .description(
      'draft the spec of a lab from its reference, brief and plan: sobrin draft-spec LAB.json --out NEW.json',
    )
    .argument('<lab>')
    .option('--points <number>', 'the points of all that is drafted together; one or two each where nothing is said')
    .option('--out <file>', 'write the lab with its drafted spec')
    .option('--keep', 'keep what the lab asks, and draft only what it lacks')
    .option('--json', 'print JSON')
    .action(async (lab: string, options: DraftOptions) => {
      status = await draftSpec(lab, options, out, err);
    });
  program
    .command('drill')
    .description('plant known mistakes in the reference of a lab and say which its spec notices: sobrin drill LAB.json')
    .argument('<lab>')
    .option('--seed <number>', 'the same number is the same drill')
    .option('--json', 'print JSON')
    .action(async (lab: string, options: DrillOptions) => {
      status = await drillLab(lab, options, out, err);
    });
  networkCommands(program, out, err, (ended) => {
    status = ended;
  });
  addressCommands(program, out, err, source, (ended) => {
    status = ended;
  });
  try {
    await program.parseAsync([...argv]);
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? STATUS.well : STATUS.unusable;
    throw error;
  }
  return status;
}

/** Questions to the network of a drawing: sobrin reach | trace | tables. */
function networkCommands(program: Command, out: Output, err: Output, end: (status: number) => void): void {
  const asking = (command: Command): Command =>
    command
      .argument('<file>', 'a drawing, a lab, or a network with measured answers')
      .option('--family <family>', '4 or 6; both where nothing is said')
      .option('--protocol <protocol>', 'icmp, tcp or udp', 'icmp')
      .option('--port <port>', 'of tcp or udp')
      .option('--json', 'print JSON');
  asking(program.command('reach'))
    .description('who reaches whom: every device with an address, and every address of the others')
    .action(async (file: string, { json, ...question }: Question & { json?: boolean }) => {
      end(await reach(file, question, json ?? false, out, err));
    });
  asking(program.command('trace'))
    .description('the way of one packet there and back: sobrin trace FILE --from A --to B')
    .requiredOption('--from <device>', 'its name')
    .requiredOption('--to <device>', 'its name, or an address')
    .option('--pcap <out>', 'write its frames as a capture file')
    .action(async (file: string, { json, ...asked }: TraceQuestion & { json?: boolean }) => {
      end(await traceOne(file, asked, json ?? false, out, err));
    });
  program
    .command('sign-in')
    .description('whether somebody at a device can sign in at another one')
    .argument('<file>')
    .requiredOption('--from <device>', 'its name')
    .requiredOption('--to <device>', 'its name, or an address')
    .requiredOption('--by <way>', 'ssh, telnet or console')
    .option('--changing', 'whether settings may be changed there, too')
    .option('--json', 'print JSON')
    .action(
      async (
        file: string,
        { json, ...asked }: { from: string; to: string; by: string; changing?: boolean; json?: boolean },
      ) => {
        end(await signInAt(file, asked, json ?? false, out, err));
      },
    );
  program
    .command('tables')
    .description('interfaces, routes, leases, spanning tree and OSPF neighbours of a device')
    .argument('<file>')
    .requiredOption('--device <device>', 'its name')
    .option('--json', 'print JSON')
    .action(async (file: string, options: { device: string; json?: boolean }) => {
      end(await tables(file, options.device, options.json ?? false, out, err));
    });
}

/** Address arithmetic: sobrin address info | split | summarise | next. */
function addressCommands(
  program: Command,
  out: Output,
  err: Output,
  source: NodeJS.ReadableStream,
  end: (status: number) => void,
): void {
  const address = program.command('address').description('address arithmetic for IPv4 and IPv6');
  address
    .command('info')
    .description('what there is to say of an address; "-" reads one a line from standard input')
    .argument('<address>')
    .option('--json', 'print JSON, one object a line')
    .action(async (text: string, options: { json?: boolean }) => {
      end(await info(text, options.json ?? false, source, out, err));
    });
  address
    .command('split')
    .description('subnets for numbers of hosts, largest first: sobrin address split 10.84.0.0/16 --hosts 500,200,60')
    .argument('<block>')
    .requiredOption('--hosts <numbers>', 'numbers of hosts, with commas between')
    .option('--json', 'print JSON')
    .action((block: string, options: { hosts: string; json?: boolean }) => {
      end(split(block, options.hosts, options.json ?? false, out, err));
    });
  address
    .command('summarise')
    .description('the fewest blocks that hold exactly the same addresses')
    .argument('<blocks...>')
    .option('--json', 'print JSON')
    .action((blocks: string[], options: { json?: boolean }) => {
      end(summary(blocks, options.json ?? false, out, err));
    });
  address
    .command('next')
    .description('the lowest free block of a length inside another one')
    .argument('<block>')
    .requiredOption('--prefix <length>', 'the prefix length that is wanted')
    .option('--used <blocks>', 'blocks that are taken, with commas between', '')
    .option('--json', 'print JSON')
    .action((block: string, options: { prefix: string; used: string; json?: boolean }) => {
      end(next(block, options.used, options.prefix, options.json ?? false, out, err));
    });
}
