// Pictures that go with findings: scaled in the browser, kept by the server under the hash of their bytes.
import { ref } from 'vue'
import { Refused, type Problem, type Schemas } from '../api/client'
import { person } from './preferences'
import { t } from './texts'

/** The longer side that a picture is scaled to, px, and how well it is kept. */
const LONGEST = 1600
const QUALITY = 0.85
/** What is small enough is kept as it is. */
const SMALL_BYTES = 400_000

/** Where pictures are got from: a shared sheet has a place of its own for them. */
export const pictureBase = ref('/api/pictures/')
export const pictureUrl = (picture: Schemas['Picture']) => pictureBase.value + picture.hash

async function scaled(file: File): Promise<Blob> {
  const image = await createImageBitmap(file, { imageOrientation: 'from-image' }).catch(() => null)
  if (!image) throw new Error(t('ui-this-file-cannot-be-shown-as'))
  const scale = Math.min(1, LONGEST / Math.max(image.width, image.height))
  const asItIs = scale === 1 && file.size <= SMALL_BYTES && (file.type === 'image/jpeg' || file.type === 'image/png')
  if (asItIs) return file
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(image.width * scale)
  canvas.height = Math.round(image.height * scale)
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', QUALITY))
  return blob ?? file
}

/** Keeps a picture; what it is referred to by. */
export async function keepPicture(file: File): Promise<Schemas['Picture']> {
  const body = await scaled(file)
  const headers = { 'content-type': body.type, 'x-rigore-as': person.value }
  const response = await fetch('/api/pictures', { method: 'POST', body, headers }).catch(() => null)
  if (!response || response.status >= 500) throw new Error(t('ui-no-connection-the-picture-is-not'))
  if (!response.ok) throw new Refused((await response.json()) as Problem)
  return (await response.json()) as Schemas['Picture']
}
