import {
  type AskedRequirement,
  askedSpec,
  parseJson,
  parseSpec,
  readDesign,
  readRequirements,
  realize,
  type Verdict,
  verify,
  VoskelError,
} from '@voskel/core'
import { celsius } from '../arguments.js'
import { circuitOf, emitJson, isSpec, linearised, loadCircuit, readSource, type Source, within } from '../io.js'
import { INPUT, OUTPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import { NOT_MET, type Register } from './Command.js'

export const registerVerify: Register = (program) => {
  program
    .command('verify')
    .description(
      'the ledger: every requirement with limit, achieved, margin, where, and whether it is met; exit 1 if one is not',
    )
    .argument('<DESIGN>', 'design JSON, with --require any circuit, or - for standard input')
    .option('--require <file>', 'judge the circuit by this JSON list of requirements, and by it alone')
    .option(...INPUT)
    .option(...OUTPUT)
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: StudyOptions & { require?: string; out?: string }) => {
      const source = readSource(file)
      const verdicts =
        options.require === undefined
          ? within(source, () => ofDesign(source, options))
          : ofCircuit(file, requirementsIn(options.require), options)
      emitJson(verdicts, options.out)
      if (verdicts.some((v) => !v.met)) process.exitCode = NOT_MET
    })
}

function requirementsIn(file: string): AskedRequirement[] {
  const source = readSource(file)
  const json = within(source, () => parseJson(source.text))
  return within({ ...source, json }, () => readRequirements(json.value))
}

/** Any circuit, by a list. */
function ofCircuit(file: string, requirements: readonly AskedRequirement[], options: StudyOptions): Verdict[] {
  const source = readSource(file)
  if (source.json && isSpec(source.json.value)) {
    const spec = source.json.value
    return within(source, () => verify(null, realize(parseSpec(spec)).circuit, requirements, options))
  }
  const loaded = loadCircuit(file)
  const study = studied(loaded, options)
  return within(loaded.source, () => {
    // Said for its warnings: on which models the verdicts rest.
    linearised(loaded, study.temperature)
    return verify(null, loaded.circuit, requirements, study)
  })
}

function ofDesign(source: Source, options: StudyOptions): Verdict[] {
  if (!source.json) {
    throw new VoskelError('ARGUMENT', {
      problem: 'A netlist says nothing of what is required.',
      fix: 'Give a design file with its specification, or the requirements with --require.',
    })
  }
  if (isSpec(source.json.value)) {
    const spec = parseSpec(source.json.value)
    return verify(spec, realize(spec).circuit, undefined, options)
  }
  const design = readDesign(source.json.value)
  if (!design.specification && !design.requirements) {
    throw new VoskelError(
      'DESIGN_INVALID',
      { problem: 'it holds neither a specification nor requirements, so nothing is required' },
      { path: '' },
    )
  }
  const circuit = circuitOf(source, design)
  const study = studied({ design }, options)
  // Said for its warnings: on which models the verdicts rest.
  linearised({ source, circuit }, study.temperature)
  return verify(askedSpec(design), circuit, design.requirements, study)
}
