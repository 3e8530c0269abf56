// What each place is for and how it is used, written for a builder. One entry for each place of the program.

import { t } from './texts'

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
    title: t('common-engines'),
    about: t('help-every-engine-of-the-shop-with'),
    points: [
      t('help-blocked-engines-come-first-something-has'),
      t('help-continue-work-opens-the-operation-in'),
      t('help-new-engine-starts-one-to-a'),
      t('help-find-searches-names-customers-numbers-serials'),
    ],
  },
  engine: {
    title: t('common-engine'),
    about: t('help-one-engine-from-its-first-operation'),
    points: [
      t('help-the-build-sequence-is-numbered-like'),
      t('help-a-circle-with-a-stroke-is'),
      t('help-clearances-show-each-bearing-cylinder-or'),
      t('help-work-order-prints-what-is-left'),
      t('help-blockers-say-what-the-engine-waits'),
    ],
  },
  bench: {
    title: t('help-bench'),
    about: t('help-one-operation-full-screen-to-be'),
    points: [
      t('help-type-a-reading-and-press-enter'),
      t('help-enter-alone-is-the-large-button'),
      t('help-the-map-shows-every-fastener-with'),
      t('help-a-reading-that-cannot-be-right'),
      t('help-a-wrong-entry-is-voided-with'),
      t('help-how-this-target-was-set-tells'),
      t('help-report-a-problem-for-anything-seen'),
      t('help-lists-the-keys-and-sets-voice'),
    ],
  },
  sheet: {
    title: t('common-build-sheet'),
    about: t('help-the-record-of-one-engine-for'),
    points: [
      t('help-summary-first-main-figures-with-their'),
      t('help-print-gives-a4-or-letter-as'),
      t('help-share-makes-a-link-for-a'),
      t('help-the-hash-at-the-end-ties'),
      t('help-files-has-the-whole-record-as'),
    ],
  },
  papers: {
    title: t('help-work-order-parts-list-labels'),
    about: t('help-papers-of-one-engine-for-the'),
    points: [
      t('help-the-work-order-lists-what-is'),
      t('help-the-parts-list-has-every-part'),
      t('help-a-label-carries-a-qr-code'),
    ],
  },
  day: {
    title: t('common-day'),
    about: t('help-what-can-be-started-now-what'),
    points: [
      t('help-work-is-listed-by-engine-with'),
      t('help-what-waits-shows-until-when-sealant'),
      t('help-working-hours-decide-when-a-job'),
    ],
  },
  plans: {
    title: t('common-plans'),
    about: t('help-the-reusable-specification-of-each-engine'),
    points: [
      t('help-new-plan-starts-from-an-outline'),
      t('help-a-draft-becomes-a-version-when'),
      t('help-plans-are-toml-files-that-can'),
    ],
  },
  draft: {
    title: t('help-plan-in-work'),
    about: t('help-a-plan-reads-like-a-page'),
    points: [
      t('help-write-a-procedure-as-the-manual'),
      t('help-a-figure-that-nobody-has-looked'),
      t('help-every-torque-is-turned-into-clamp'),
      t('help-add-joints-clearances-and-procedures-from'),
      t('help-what-a-template-assumed-is-marked'),
      t('help-dry-run-tries-the-plan'),
    ],
  },
  plan: {
    title: t('common-plan'),
    about: t('help-one-published-version-of-a-plan'),
    points: [t('help-each-joint-shows-its-stages-sequence'), t('help-edit-makes-a-draft-of-it')],
  },
  parts: {
    title: t('common-parts'),
    about: t('help-the-life-of-a-part-or'),
    points: [
      t('help-search-by-serial-mark-or-set'),
      t('help-rod-bolts-show-their-free-length'),
      t('help-add-a-note-to-a-part'),
    ],
  },
  tools: {
    title: t('common-tools'),
    about: t('help-calculations-clamp-load-friction-and-practice'),
    points: [
      t('help-each-calculation-shows-its-formula-and'),
      t('help-clamp-load-compares-torque-angle-and'),
      t('help-friction-collects-what-your-own-bolts'),
      t('help-practice-tighten-a-bolt-of-unknown'),
    ],
  },
  own: {
    title: t('common-shop-settings'),
    about: t('help-instruments-people-benches-letterhead-backups'),
    points: [
      t('help-instruments-carry-their-range-accuracy-and'),
      t('help-paste-instruments-from-a-spreadsheet-name'),
      t('help-a-lead-adds-people-and-enrols'),
      t('help-a-backup-is-made-every-night'),
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
