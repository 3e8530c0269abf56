// Who is signed in at this browser. The cookie is no script's to read: what the server says is what counts, and every
// window of this browser hears of a change.
import { computed, ref } from 'vue'
import { firstUnits, person } from '../ui/preferences'
import { api, onNobody, onProof, take, type Schemas } from './client'

type Session = Schemas['SessionView']
/** What the server last said; nothing before it was asked. */
export const session = ref<Session>()
/** Whether whoever is signed in may record work. */
export const mayRecord = computed(() => !!session.value?.person && session.value.person.role !== 'viewer')
export const isLead = computed(() => session.value?.person?.role === 'lead')
const windows = new BroadcastChannel('rigore-session')

/** What happens when somebody comes to be signed in, or somebody else. */
const arrivals: (() => void)[] = []
export const onArrival = (heard: () => void) => void arrivals.push(heard)

function show(now: Session, tell = true) {
  const changed = now.person?.id !== session.value?.person?.id
  session.value = now
  person.value = now.person?.id ?? ''
  firstUnits.value = { torque: now.torque_unit, length: now.length_unit }
  if (changed && now.person) arrivals.forEach((heard) => heard())
  if (changed && tell) windows.postMessage(person.value)
}
export async function loadSession(): Promise<void> {
  show(take(await api.GET('/api/session')), false)
}
windows.onmessage = () => void loadSession().catch(() => undefined)
onNobody(() => {
  if (session.value?.person) void loadSession().catch(() => undefined)
})

export const signIn = async (name: string, password: string) =>
  show(take(await api.POST('/api/session', { body: { name, password } })))
export const enter = async (who: string) => show(take(await api.POST('/api/session/enter', { body: { person: who } })))
export const tapIn = async (who: string, pin: string) =>
  show(take(await api.POST('/api/session/pin', { body: { person: who, pin } })))
export const found = async (body: Schemas['FirstRun']) => show(take(await api.POST('/api/first-run', { body })))
export const changeSecrets = async (body: Schemas['OwnSecrets']) =>
  show(take(await api.PUT('/api/session/secrets', { body })))
export async function signOut(everywhere = false) {
  take(everywhere ? await api.DELETE('/api/session/everywhere') : await api.DELETE('/api/session'))
  await loadSession()
  windows.postMessage('')
}

/** Whoever is asked for their PIN or password before something is signed, or who may do what is changed. */
export const asking = ref<{ answer: (given: boolean) => void }>()
/** Whether they are to choose a password or PIN of their own. */
export const choosing = ref(false)
let asked: Promise<boolean> | undefined
/** Whether whoever is signed in has proved to be at the screen. */
function confirmed(): Promise<boolean> {
  asked ??= new Promise<boolean>((answer) => (asking.value = { answer })).finally(() => {
    asking.value = undefined
    asked = undefined
  })
  return asked
}
onProof(confirmed)
