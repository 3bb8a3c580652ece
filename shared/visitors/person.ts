import { array, object, string } from '../yup'

/** A device that a person was seen on. */
export interface PersonDevice {
  visitor: string
  /** Pages that were opened there while the person was named. */
  views: number
  firstSeenAt: string
  lastSeenAt: string
  /** Other persons who were seen there, too. */
  otherPersons: number
}

export interface PersonExport {
  person: string
  devices: PersonDevice[]
  /** Rows by table. */
  kept: Record<string, object[]>
}

/** By which a site's own server proves who somebody is; null where no proof is asked for. */
export interface PersonKeyView {
  key: string | null
  since: string | null
}

export const erasedPersonSchema = object({
  /** Devices that go with all that was done on them. */
  visitors: array(string().max(64).required())
    .max(1000, 'At most 1,000 devices.')
    .required('Say which devices go along.'),
})
