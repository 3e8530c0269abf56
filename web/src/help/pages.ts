// What each place is for and how it is used, written for a builder. One entry for each place of the program.

export interface HelpPage {
  /** Name of the place, as in the navigation. */
  title: string
  /** What it is for, in one sentence. */
  about: string
  /** How it is used, point by point. */
  points: string[]
}

export const helpPages: Record<string, HelpPage> = {
  shop: {
    title: 'Engines',
    about: 'Every engine of the shop, with what can be done on it now.',
    points: [
      'Blocked engines come first: something has to be repaired, replaced or approved. Then those in work.',
      'Continue work opens the operation in hand. The name opens the whole build sequence.',
      'New engine starts one to a plan. Give its number and customer now or later; both stand on the build sheet.',
      'Find searches names, customers, numbers, serials and batches.',
    ],
  },
  engine: {
    title: 'Engine',
    about: 'One engine from its first operation to its last.',
    points: [
      'The build sequence is numbered like a job card. Operations side by side in one number can be done in parallel.',
      'A circle with a stroke is done and signed; a filled ring is in work; a triangle is blocked.',
      'Clearances show each bearing, cylinder or ring: ▲ is out of spec, ≈ too close to call, any other OK.',
      'Work order prints what is left, parts list what is in it, labels the engine, its trays and parts.',
      'Blockers say what the engine waits for: a part, the machine shop, a customer. Due dates stand on the day.',
    ],
  },
  bench: {
    title: 'Bench',
    about: 'One operation, full screen, to be read from two metres and used with one key.',
    points: [
      'Type a reading and press Enter. A unit may follow the number: 55 lbf·ft, 0.0025 in, 2.5 thou.',
      'Enter alone is the large button: it clicked, the mark is there, done. A foot pedal that types Enter will do.',
      'The map shows every fastener with its paint marks. Tap one to pull another than the next.',
      'A reading that cannot be right is asked about. Record anyway keeps it; Esc clears it.',
      'A wrong entry is voided with a reason. It stays on the record and no longer counts.',
      'How this target was set tells the spec, the lubricant, the adapter and the clamp load.',
      'Report a problem for anything seen on a part: it holds the work until a lead decides.',
      '? lists the keys, and sets voice and what single keys do.',
    ],
  },
  sheet: {
    title: 'Build sheet',
    about: 'The record of one engine, for the customer and for a dispute.',
    points: [
      'Summary first: main figures with their limits, deviations and who approved them, signatures.',
      'Print gives A4 or Letter, as the printer has it. Name, address and logo come from the shop settings.',
      'Share makes a link for a customer; its code is printed on the sheet. The link can be removed.',
      'The hash at the end ties the paper to the record: it changes with every entry.',
      'Files has the whole record as one archive, and tables for a spreadsheet.',
    ],
  },
  papers: {
    title: 'Work order, parts list, labels',
    about: 'Papers of one engine for the bench, the shelf and the customer.',
    points: [
      'The work order lists what is left, with figures and room to tick.',
      'The parts list has every part with batch, serial and condition.',
      'A label carries a QR code: a phone that reads it opens the engine or the part.',
    ],
  },
  day: {
    title: 'Day',
    about: 'What can be started now, what waits for what, and which due date is in danger.',
    points: [
      'Work is listed by engine with the time it usually takes in this shop.',
      'What waits shows until when: sealant that cures, parts on order, tools out for calibration.',
      'Working hours decide when a job is forecast to end. The calendar link shows dates in your own calendar.',
    ],
  },
  plans: {
    title: 'Plans',
    about: 'The reusable specification of each engine: joints, procedures, clearances, checks and their order.',
    points: [
      'New plan starts from an outline: layout, cylinders, bearings. What is usual is filled in.',
      'A draft becomes a version when it is published. Engines keep the version they were started with.',
      'Plans are TOML files that can be exported, edited and imported.',
    ],
  },
  draft: {
    title: 'Plan in work',
    about: 'A plan reads like a page of a manual and is written like one.',
    points: [
      'Write a procedure as the manual prints it: “30 N·m, 60 N·m, then 90° twice, centre out”.',
      'A figure that nobody has looked up yet is a question mark. The engine can be begun; only what needs it waits.',
      'Every torque is turned into clamp load and percent of yield. One that would break the bolt is an error here.',
      'Add joints, clearances and procedures from the library, or save them to it.',
    ],
  },
  plan: {
    title: 'Plan',
    about: 'One published version of a plan, as engines are built to it.',
    points: [
      'Each joint shows its stages, sequence and clamp loads; tap its name for the printed joint sheet.',
      'Edit makes a draft of it. Compare shows what differs from another version.',
    ],
  },
  parts: {
    title: 'Parts',
    about: 'The life of a part or fastener across engines.',
    points: [
      'Search by serial, mark or set number. A part logged into two engines is one part here.',
      'Rod bolts show their free length at every build: permanent stretch past the limit is scrap.',
      'Add a note to a part, or report a problem with it.',
    ],
  },
  tools: {
    title: 'Tools',
    about: 'Calculations, clamp load, friction and practice: what needs no engine.',
    points: [
      'Each calculation shows its formula and source, with figures in your units.',
      'Clamp load compares torque, angle and stretch on the same bolt.',
      'Friction collects what your own bolts have shown, and tests of a bolt in the vice.',
      'Practice: tighten a bolt of unknown friction to its stretch. Nothing is recorded on an engine.',
    ],
  },
  own: {
    title: 'Shop settings',
    about: 'Instruments, people, benches, letterhead, backups and imports.',
    points: [
      'Instruments carry their range, accuracy and calibration. One out of calibration is warned about at the bench.',
      'Paste instruments from a spreadsheet: name, kind, serial, range, resolution, accuracy, due date.',
      'A lead adds people and enrols benches. On an enrolled bench a name and a PIN change the person.',
      'A backup is made every night, restored and verified.',
    ],
  },
}

/** The help page of each route. */
export const helpOfRoute: Record<string, string> = {
  shop: 'shop',
  engine: 'engine',
  bench: 'bench',
  sheet: 'sheet',
  shared: 'sheet',
  'work-order': 'papers',
  'parts-list': 'papers',
  labels: 'papers',
  day: 'day',
  plans: 'plans',
  'new-plan': 'plans',
  draft: 'draft',
  plan: 'plan',
  joint: 'plan',
  parts: 'parts',
  part: 'parts',
  tools: 'tools',
  calculate: 'tools',
  'clamp-load': 'tools',
  friction: 'tools',
  'friction-tests': 'tools',
  practice: 'tools',
  own: 'own',
  instrument: 'own',
}
