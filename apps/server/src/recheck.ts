import { judge, prepareLab } from '@sobrin/core/spec';
import { canonicalJson, documentHash } from '@sobrin/core/topology';
import { CORE_VERSION } from '@sobrin/core/version';
import { DataSource, IsNull } from 'typeorm';
import { CheckRecord } from './checks/check.entity';
import { differencesOf, inputsOf } from './checks/inputs';
import { LabVersion } from './labs/lab.entity';
import { databaseOptions } from './platform/database';
import { Submission } from './submissions/submission.entity';

/** Makes every kept result again and compares: for whoever runs Sobrin, see scripts/recheck.mjs. The exit status is 1 where one is not what it was. */
async function main(): Promise<void> {
  const db = await new DataSource(databaseOptions()).initialize();
  const count = { same: 0, confirmed: 0, lost: 0 };
  const wrong: string[] = [];
  const differing: string[] = [];
  try {
    const versions = await db.manager.find(LabVersion, { select: { hash: true } });
    for (const { hash } of versions) {
      const { content } = await db.manager.findOneByOrFail(LabVersion, { hash });
      if (documentHash(content) !== hash) wrong.push(`Version ${hash} is not what it was.`);
      const prepared = prepareLab(content);
      const records = await db.manager.find(CheckRecord, { where: { versionHash: hash }, select: { id: true } });
      for (const { id } of records) {
        const record = await db.manager.findOneByOrFail(CheckRecord, { id });
        const { topology, plan, answers } = await db.manager.findOneByOrFail(Submission, { id: record.submissionId });
        const pins = record.result.pins ?? {};
        const again = judge(prepared, { drawing: topology, ...(plan && { plan }), answers }, pins);
        const core = record.coreVersion;
        const inputs = inputsOf({ submission: again.submissionHash, version: hash, core, pins });
        if (inputs !== record.inputs) wrong.push(`Result ${id}: it was made from something else than is stored now.`);
        else if (core !== CORE_VERSION) {
          const differs = differencesOf(record.result.requirements, again.requirements);
          if (differs.length) differing.push(`Result ${id}: judged otherwise are ${differs.join(', ')}.`);
          else count.confirmed++;
        } else if (sameText(record.result, { ...again, coreVersion: core })) count.same++;
        else wrong.push(`Result ${id}: made again by the same core it is another one.`);
      }
    }
    count.lost = await db.manager.countBy(CheckRecord, { versionHash: IsNull() });
  } finally {
    await db.destroy();
  }
  for (const line of [...wrong, ...differing]) console.log(line);
  console.log(
    [
      `${count.same} results are the same to the letter`,
      `${count.confirmed} of another core have the same verdicts and points`,
      `${differing.length} of another core differ`,
      `${count.lost} were made before labs had versions and cannot be made again`,
      `${wrong.length} wrong`,
    ].join('; ') + '.',
  );
  process.exitCode = wrong.length ? 1 : 0;
}

const sameText = (first: unknown, second: unknown): boolean => canonicalJson(first) === canonicalJson(second);

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exitCode = 1;
});
