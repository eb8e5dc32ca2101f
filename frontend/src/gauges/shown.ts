/** A joint's figures as they are shown: per side, or on diameter where its trade has it so, or straight across a gap that has no two sides. They are kept per side. */
import type { Joint } from '../api/client'

export const perWords = (joint: Joint): string => ({ diameter: 'on diameter', side: 'a side', across: 'across' })[joint.per]

const times = <T extends object>(value: T | null, k: number): T | null =>
  value && (Object.fromEntries(Object.entries(value).map(([key, v]) => [key, typeof v === 'number' ? v * k : v])) as T)

export function asShown(joint: Joint): Joint {
  if (joint.per !== 'diameter') return joint
  const tolerance = joint.tolerance && {
    ...joint.tolerance, ...times({ least: joint.tolerance.least, most: joint.tolerance.most, room: joint.tolerance.room, play: joint.tolerance.play, likely_room: joint.tolerance.likely_room, likely_play: joint.tolerance.likely_play }, 2)!, rows: joint.tolerance.rows.map((row) => times(row, 2)!),
  }
  return {
    ...joint, tolerance, wanted_mm: times(joint.wanted_mm, 2), expected_mm: times(joint.expected_mm, 2),
    measured_mm: joint.measured_mm && { ...times(joint.measured_mm, 2)!, tilt_rad: joint.measured_mm.tilt_rad },
    drawn_mm: joint.drawn_mm === null ? null : joint.drawn_mm * 2,
  }
}
