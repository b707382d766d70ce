/**
 * The door of the core, in the order of the road from promise to proof.
 */
export { catalogue, type ErrorCode } from './errors/catalogue.js'
export { isText, readable } from './errors/readable.js'
export { type ErrorPlace, type Failure, toFailure, VoskelError } from './errors/VoskelError.js'

export { parseQuantity } from './quantity/parseQuantity.js'
export { DEFAULT_DIGITS, formatExact, formatQuantity, formatShort } from './quantity/formatQuantity.js'
export { parseSignal, type Signal, signalText } from './quantity/signal.js'
export {
  nearestPreferred,
  preferredNeighbours,
  SERIES_NAMES,
  type SeriesName,
  seriesValues,
} from './quantity/preferredValues.js'

export { type Complex, complex } from './numeric/complex.js'
export {
  evaluate,
  gainDecades,
  groupDelay,
  magnitudeDb,
  phase,
  type TransferFunction,
} from './numeric/transferFunction.js'

export {
  type ApproximatedSpec,
  type ApproximatedSpecInput,
  equalizedBand,
  EVEN_ORDERS,
  type EvenOrder,
  attenuations,
  type FilterSpec,
  type FilterSpecInput,
  FilterSpecSchema,
  HALF_POWER_DB,
  isShaped,
  MAX_ORDER,
  MOST_SECTIONS,
  ownsField,
  parseSpec,
  type ShapedSpec,
  shapeOf,
  type SpecIssue,
  specIssues,
} from './specification/filterSpec.js'
export {
  overrunEdges,
  type StopbandPart,
  withPassbandEdge,
  withResponse,
  withRipple,
  withShapeValue,
  withStopband,
} from './specification/edits.js'
export { readDraft } from './specification/draft.js'
export {
  type AskedRequirement,
  ofResponse,
  REQUIREMENT_KINDS,
  isLimit,
  type LimitRequirement,
  type RequirementId,
  requirementKindOf,
} from './specification/requirements/index.js'
export type { RequirementKind } from './specification/requirements/RequirementKind.js'
export { MEASURES, type MeasureName, measureOf, measureSays } from './specification/requirements/measures.js'
export type { ReadAs, Taken, ValueReading, ValueRequirement } from './specification/requirements/value.js'
export { type Influence, influences } from './verdict/influence.js'
export { readingText } from './verdict/readingText.js'
export { type Read, Readings } from './verdict/readings.js'
export {
  atPrototypeRatio,
  type Band,
  passbands,
  prototypeRatio,
  type ResponseId,
  type ResponseKind,
  RESPONSES,
  stopbands,
} from './specification/responses.js'
export type { ChoiceField, NumbersField, QuantityField, RecordField } from './specification/fields.js'
export { shapes } from './specification/shapes/index.js'
export type { LimitPoint, Limits, Shape, ShapeField as ShapeValueField } from './specification/shapes/Shape.js'

export type { Approximation } from './approximation/Approximation.js'
export { approximation, approximations } from './approximation/index.js'
export { withApproximation } from './approximation/edits.js'
export { approximate, type Ideal, responseTitle, specificationTitle } from './approximation/approximate.js'

export { formulaSheet } from './synthesis/formulaSheet.js'
export type { FormulaStep, Realized, RealizationField, Topology } from './synthesis/Topology.js'
export { topologies } from './synthesis/index.js'
export { type ExplainedPart, type ExplainedSection, explainSections } from './synthesis/active/explain.js'
export { SECTION_FAMILIES, SECTION_KINDS } from './synthesis/active/families.js'
export { sectionDocuments } from './format/drawing/sectionDocuments.js'
export { realize } from './synthesis/realize.js'
export { withRealizationValue, withTopology } from './synthesis/edits.js'
export { VALUE_CHOICES, type ValueChoice } from './synthesis/values.js'

export {
  type Circuit,
  CircuitSchema,
  type End,
  type GridPoint,
  type Junction,
  type Label,
  type Part,
  type Note,
  type Wire,
} from './circuit/circuit.js'
export { lacksOf, meaningOf } from './circuit/leftOut.js'
export { insideOf, matchedPins, useOf, usesOf } from './circuit/blocks.js'
export { arranged } from './circuit/drawing/arrange/index.js'
export { type Drawing, drawingOf, laidOut, type Sheet } from './circuit/drawing/index.js'
export { partTexts } from './circuit/drawing/texts.js'
export {
  labelBox,
  type LabelPlace,
  labelRows,
  LAYER_SIZE,
  type LayerText,
  NOTE_SIZE,
  noteBox,
  placeTexts,
  tagBox,
  textBox,
  valueText,
} from './circuit/drawing/labels.js'
export { type PartSymbol, type ResistorLook, strokesOf } from './circuit/parts/PartSymbol.js'
export { type EffectiveValue, effectiveValues, scopeOf } from './circuit/effectiveValues.js'
export { flatten, type FlatCircuit } from './circuit/flatten.js'
export { NetMap } from './circuit/NetMap.js'
export { circuitEdit, circuitEdits, type EditCall } from './circuit/edit/index.js'
export { checkCircuit, checks } from './circuit/checks/index.js'
export type { Check, Finding, Remedy } from './circuit/checks/Check.js'
export { type Patched, patched, type Patches, type PartPatch, withoutPatchedValue } from './circuit/patch.js'
export {
  around,
  type Box,
  endPoint,
  isDrawn,
  looksJoined,
  placed,
  stretchesOf,
  symbolBox,
  wirePoints,
} from './circuit/drawing/geometry.js'
export { type PlacedPin, placedPins } from './circuit/drawing/pins.js'
export { blankCircuit } from './circuit/edit/blankCircuit.js'
export { type GrowWay, supplyOf, WAYS } from './circuit/edit/growPart.js'
export type { NewPart } from './circuit/edit/newPart.js'
export { type Recognised, recognise } from './recognise/recognise.js'
export { type Rounding, roundingOf } from './recognise/rounding.js'
export { type WhatItIs, whatItIs } from './verdict/firstSpecification.js'
export { ZERO_CELSIUS } from './circuit/devices/constants.js'
export { followingWires } from './circuit/edit/moveThings.js'
export { pieceOf } from './circuit/edit/pasteThings.js'
export { type Direction, tipAfter, validTip, walkFrom } from './circuit/edit/walk.js'
export { type TypedValue, typedValue } from './circuit/typedValue.js'
export { liesOn, samePoint, type Spot, spotAt, spotPoint } from './circuit/edit/spots.js'
export { type Reading, readingsOf, type Saying } from './circuit/say/index.js'
export { partKind, partKinds, partShape } from './circuit/parts/index.js'
export { PART_GROUPS, type PartGroup, type PartKind, shortedPins, type ValueField } from './circuit/parts/PartKind.js'
export { type Waveform, waveformKind, waveformKinds, WaveformSchema } from './circuit/waveforms/index.js'
export type { WaveformField } from './circuit/waveforms/Waveform.js'
export { AMPLITUDES } from './circuit/circuit.js'

export { formulate, type Mna } from './analysis/mna.js'
export { inputSource, maybeElement } from './analysis/elements.js'
export { type BoundSignal, bindSignals, readOutput, type SignalLike } from './analysis/signals.js'
export {
  AcAnalysis,
  type FrequencyResponse,
  type ResponsePoint,
  SignalAnalysis,
  type Sweep,
} from './analysis/signalAnalysis.js'
export { followedPhase, linearGrid, logarithmicGrid, magnitudesDb, phasesDeg, spacedGrid } from './analysis/sweeps.js'
export { adaptiveSweep, adaptiveSweeps } from './analysis/adaptiveGrid.js'
export { ValueSweep } from './analysis/valueSweep.js'
export { CompiledSweep, type SweepRequest, type SweepValues } from './analysis/compiledSweep.js'
export { operatingPoint, type OperatingPoint } from './analysis/operatingPoint.js'
export { fourier, type Harmonic, type Spectrum } from './analysis/fourier.js'
export { largeSignalPoints, largeSignalResponse, type LargeSignalPoint } from './analysis/largeSignal.js'
export { LoopGain, type StabilityMargins } from './analysis/loopGain.js'
export { operatingReport, type OperatingReport } from './analysis/operatingReport.js'
export { smallSignal } from './analysis/smallSignal.js'
export { NoiseAnalysis, type NoisePoint } from './analysis/noise.js'
export { type Sensitivity, sensitiveParameters, sensitiveParts, sensitivity } from './analysis/sensitivity.js'
export { type PoleSensitivity, poleSensitivities } from './analysis/poleSensitivity.js'
export { doubtsOf } from './analysis/doubts.js'
export { measureSensitivities } from './analysis/measureSensitivity.js'
export { oscillationFindings } from './analysis/oscillation.js'
export { maybeTransfer, naturalFrequenciesOf, type PoleZeroAnalysis, polesAndZeros } from './analysis/poles.js'
export { exactTransient, type ExactTransientOptions } from './analysis/exactTransient.js'
export { type RunStart, settledState, startState } from './analysis/settledState.js'
export { commonPeriod } from './analysis/commonPeriod.js'
export { transient, type Transient, type TransientOptions } from './analysis/transient.js'
export { interpolate, uniformTimes } from './analysis/interpolate.js'

export { type AcMeasures, acMeasures } from './measure/acMeasures.js'
export { type StepMeasures, stepMeasures } from './measure/stepMeasures.js'
export { proposedRange, proposedStop, proposedWindow, usualRange } from './measure/propose.js'
export { type PartialFractions, partialFractions } from './numeric/partialFractions.js'
export { StepResponse } from './measure/stepResponse.js'

export type { Evidence, Requirement, Verdict, VerdictKind } from './verdict/Requirement.js'
export { requirements } from './verdict/index.js'
export { advise, idealOf } from './verdict/leastOrder.js'
export { evidenceOf } from './verdict/evidence.js'
export { ledger } from './verdict/ledger.js'
export { limitUsed, marginText, type VerdictWords, verdictWords } from './verdict/words.js'
export { referenceLevel, verify } from './verdict/verify.js'

export { type Candidate, CANDIDATE_ORDERS, type CandidateFigures, candidates, variant } from './choose/candidates.js'
export {
  type AmplifierLevel,
  amplifierLevels,
  demandLimits,
  demandStep,
  type SignalDemand,
  signalDemand,
} from './choose/amplifierLevels.js'
export { type AmplifierNeed, amplifierNeed, amplifierNeedText } from './choose/amplifierNeed.js'
export { type BufferCost, bufferCosts, bufferText } from './choose/buffers.js'
export { circuitCandidates } from './choose/circuits.js'
export { ranked, USUAL_WEIGHTS, WEIGHED, type Weights } from './choose/ranking.js'

export { type SampleDeviation, deviationFrom } from './fit/deviation.js'
export { type Fit, fit, type FitOptions, type FitProgress, type Fitted, fitting } from './fit/fit.js'
export type { ComplexSamples, CourseSamples, LevelSamples, Samples } from './fit/Samples.js'
export { VariedCircuit } from './fit/varied.js'

export { readTable } from './format/table.js'
export { decodeText, type DecodedText } from './format/measured/decodeText.js'
export { type DecimalMark, DELIMITERS, type Delimiter, layoutOf, type TableLayout } from './format/measured/layout.js'
export {
  bareName,
  COLUMN_MEANINGS,
  type ColumnChoice,
  type ColumnMeaning,
  columnMeaning,
  guessColumns,
  type MeaningId,
} from './format/measured/columns.js'
export {
  type MeasuredCurve,
  type MeasuredProgress,
  type MeasuredTable,
  readingMeasured,
  readMeasured,
} from './format/measured/readMeasured.js'
export { csvChunks, writeCsv } from './format/csv.js'
export { type Asked, asked, askedSpec } from './format/design/asked.js'
export {
  type Design,
  type DesignCircuit,
  DESIGN_VERSION,
  designJsonSchema,
  type StudySettings,
  DesignSchema,
} from './format/design/Design.js'
export {
  type DesignedCircuit,
  designedCircuit,
  type Outdated,
  outdatedText,
  type ValueChange,
} from './format/design/designedCircuit.js'
export {
  computedAnew,
  keptAsShown,
  withBlockEdit,
  withCursors,
  withDrawnCircuit,
  withoutPromise,
  withExpected,
  withoutExpected,
  withPromise,
  withSourceNamed,
  withCircuitEdit,
  withLoopOpened,
  withPatches,
  withSpecification,
  withSignalShown,
  withStudy,
  withValueChoice,
  witnessed,
} from './format/design/designEdits.js'
export { type Cursor, freeCursorName, MOST_CURSORS } from './format/design/cursors.js'
export { isLoopGain } from './format/design/lookedAt.js'
export { type Shelved, ShelvedSchema, shelfOf, shelfOfCircuit } from './format/design/shelf.js'
export { designOfCircuit, designOfSpec } from './format/design/makeDesign.js'
export { readDesign } from './format/design/readDesign.js'
export {
  frequenciesWhere,
  nearestOf,
  nextOf,
  type Snap,
  SNAPS,
  slopeDbPerDecade,
  snapsOf,
  type View,
} from './measure/places.js'
export { readRequirements } from './format/design/readRequirements.js'
export { type ProjectFile, projectFile, readProjectFile } from './format/projectFile.js'
export {
  DEFAULT_DIAGRAMS,
  type Diagram,
  type DiagramAxis,
  diagramsOf,
  drawnRange,
  drawnSignals,
  FREQUENCY_VIEWS,
  MOST_NOTES,
  MOST_SIGNALS,
  outputOf,
  signalsOf,
  TIME_VIEWS,
  withDiagramSignals,
} from './format/design/diagrams.js'
export { type Drive, drivenLabel, withCursorAt, withDriven } from './format/design/driven.js'
export {
  type Course,
  type CourseMeasures,
  courseMeasures,
  COURSE_SNAPS,
  coursePlaces,
  type CourseSnap,
  timesWhere,
  type CourseSpectrum,
  courseSpectrum,
  courseAt,
  lagBetween,
} from './measure/course.js'
export { type CurvePoint, type CurveRange, type CurveView, SignalCurve } from './measure/signalCurve.js'
export { sampledResponseMeasures, sampledStepMeasures } from './measure/sampledMeasures.js'
export { type TestSignal, testSignals } from './circuit/waveforms/testSignals.js'
export { type NoiseCurves, noiseCurves } from './analysis/partNoise.js'
export { type TextbookValue, textbook } from './measure/textbook.js'
export { type Seen, whatItSees } from './analysis/whatItSees.js'
export { type Compared, MOST_COMPARED, withCompared, withoutCompared } from './format/design/compared.js'
export {
  type KeptColumn,
  type KeptCurve,
  type KeptCurves,
  type KeptFacts,
  KeptSchema,
} from './format/kept/KeptCurves.js'
export { type KeptJson, keptJson, keptOfJson } from './format/kept/keptJson.js'
export {
  type Figure,
  FIGURE_SIZE,
  type FigureFrame,
  MOST_FIGURES,
  withFigureFramed,
  withNewFigure,
  withoutFigure,
} from './format/design/figures.js'
export { keptFacts, packKept, unpackKept } from './format/kept/packKept.js'
export { deviationOf, type Expected } from './format/design/expected.js'
export { type Scattering, scattering, type ScatteringPoint } from './analysis/scattering.js'
export { type NetworkParameter, readTouchstone, type TouchstoneData } from './format/touchstone/readTouchstone.js'
export { networkCurves, referredTo } from './format/touchstone/networkCurves.js'
export { writeTouchstone } from './format/touchstone/writeTouchstone.js'
export { signalNames } from './circuit/signalNames.js'
export { type Completion, signalCompletions, type SignalNames } from './quantity/signalCompletion.js'
export { SIGNAL_FUNCTIONS } from './quantity/signalFunctions.js'
export { type LocatedJson, parseJson } from './format/jsonText.js'
export {
  type AnalysisCard,
  type NetlistContent,
  type NetlistSurvey,
  readNetlist,
  surveyNetlist,
} from './format/netlist/readNetlist.js'
export { type DrawingJson, drawingJson } from './format/drawing/drawingJson.js'
export { readyBlock } from './format/ready/readyBlock.js'
export { readyCircuits } from './format/ready/index.js'
export type { ReadyCircuit } from './format/ready/ReadyCircuit.js'
export { drawingSvg } from './format/drawing/drawingSvg.js'
export { writeNetlist, type WrittenNetlist } from './format/netlist/writeNetlist.js'
