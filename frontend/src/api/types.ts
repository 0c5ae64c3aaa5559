/** Names for the generated schema types, so that nothing is typed twice. */
import type { components } from './schema.gen'

type Schemas = components['schemas']
export type Design = Schemas['Design']
export type Assessment = Schemas['Assessment']
export type Job = Schemas['JobOut']
export type HowFar = Schemas['HowFarOut']
export type Count = HowFar['build']
export type JobCard = Schemas['Yard']['jobs'][number]
export type Catalogue = Schemas['CatalogueOut']
export type SizeLadder = Schemas['SizeLadder']
export type LadderRow = SizeLadder['rows'][number]
export type Limit = Schemas['Limit']
export type UnitVerdict = Schemas['Verdicts']['units'][number]
export type Verdicts = components['schemas']['Verdicts']
export type ShelfItem = Schemas['ShelfPage']['items'][number]
export type Taken = Schemas['TakenOut']
export type Trip = Schemas['TripReport']
export type Advice = Schemas['Advice']
export type MethodAdvice = Advice['methods'][number]
export type SignalWire = MethodAdvice['wires'][number]
export type OldLinkPlan = Schemas['ExistingLinkPlan']
export type RelayDesign = NonNullable<OldLinkPlan['relay']>
export type Tolerance = NonNullable<Schemas['ToleranceProgress']['report']>
export type Cures = NonNullable<Schemas['CuresProgress']['report']>
export type Revision = Schemas['Revisions']['revisions'][number]
export type Finding = Assessment['findings'][number]
export type Remedy = NonNullable<Finding['remedies']>[number]
export type ConditionLine = Assessment['conditions'][number]
export type Figure = Assessment['figures'][string]
export type PieceFacts = Assessment['pieces'][number]
export type WakeBands = Assessment['wake']
export type Mark = WakeBands['marks'][number]
export type Piece = NonNullable<Design['supply']['pieces']>[number]
export type Cable = Extract<Piece, { kind?: 'cable' }>
export type Device = Extract<Piece, { kind?: 'device' }>
export type Branch = Extract<Piece, { kind?: 'branch' }>
export type Buying = Schemas['Buying']
export type Joint = Extract<Piece, { kind?: 'joint' }>
export type Charger = NonNullable<Schemas['NextOut']['unit']>
export type RunName = 'supply' | 'delivery'
export type ConditionKey = ConditionLine['key']
export type EntryError = Schemas['EntryError']
/** Problem details; a stale save brings the stored job along. */
export type Problem = Schemas['Problem'] & Partial<Pick<Schemas['StaleProblem'], 'stored'>>
export type Sheet = NonNullable<Schemas['SheetOut']['sheet']>
export type SheetLine = Sheet['lines'][number]
export type Audit = Schemas['Audit']
export type AuditedSource = Audit['sources'][number]
export type Work = Schemas['Work']
export type Procedure = Work['procedure']
export type Placed = Procedure['steps'][number]
export type Step = Placed['step']
export type StepState = Schemas['BuildLog']['steps'][number]
export type NewEntry = Schemas['EntriesIn']['entries'][number]
export type MountReport = NonNullable<Schemas['MountOut']['mount']>
type Drawn = Schemas['Drawing']
/** A drawing; its points as plain lists. */
export type Drawing = Omit<Drawn, 'lines'> & {
  lines: (Omit<Drawn['lines'][number], 'points'> & { points: number[][] })[]
}
export type Quote = Schemas['Quote']
export type BenchTest = NonNullable<Schemas['BenchTestOut']['test']>
export type Proof = Schemas['Proof']
export type ProofRow = Proof['rows'][number]
export type Diagnosis = Schemas['Diagnosis']
export type Symptom = NonNullable<Schemas['CausesIn']['symptoms']>[number]
export type KeptInstrument = Schemas['InstrumentsOut']['instruments'][number]
export type Instrument = KeptInstrument['instrument']
export type Trend = Schemas['LogbookOut']['trends'][number]
export type LookedAt = Schemas['LookedAt']
export type LogMapping = Schemas['LogMapping']
export type LogColumn = LogMapping['columns'][number]
export type TriedLog = Schemas['TriedOut']
export type LogOut = Schemas['LogOut']
export type LogReport = LogOut['report']
export type LogWindow = Schemas['LogWindow']
export type KeptLog = Schemas['KeptLogs']['logs'][number]
/** Where the probes of the test in hand go, as places of the line. */
export interface Probes {
  red: string
  black: string
  clamp: boolean
}
export type House = Schemas['House']
