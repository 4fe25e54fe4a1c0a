'use client'
import { type NodePath, toPath } from '@kelvar/core/outline/nodes'
import { type Path, toSvgPath } from '@kelvar/core/outline/path'
import { shippedProfile } from '@kelvar/core/solid/profile'
import { PROFILE_NAMES } from '@kelvar/core/solid/profile-names'
import { profileSize, scaledNodes } from '@kelvar/core/solid/profile-drawing'
import { Link2, Link2Off, PenLine } from 'lucide-react'
import { useState } from 'react'
import { ToggleButton, ToggleButtonGroup } from 'react-aria-components'
import styled from 'styled-components'
import { PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'
import { useKeptProfiles } from './kept-profiles'
import { drawnOf, ProfileEditor } from './profile-editor'
import { nameOf } from './profile-names'
import type { EdgeParams } from '@kelvar/core/steps/shared/edge'

const Box = styled.fieldset`
  border: 0;
  margin: 6px 0 2px;
  padding: 0;
  min-inline-size: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  legend { color: var(--soft); font-size: 12.5px; padding: 0 0 5px; }
`
const Tiles = styled(ToggleButtonGroup)`
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
  gap: 4px;
`
const Tile = styled(ToggleButton)`
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--paper);
  padding: 4px 0 3px;
  font-size: 10px;
  letter-spacing: -0.01em;
  line-height: 1.15;
  overflow-wrap: break-word;
  min-width: 0;
  cursor: pointer;
  color: var(--soft);
  vertical-align: top;
  svg { display: block; margin: 0 auto 2px; width: 34px; height: 28px; }
  path.solid { fill: color-mix(in srgb, var(--ink) 16%, transparent); stroke: none; }
  path.line { fill: none; stroke: var(--ink); stroke-width: 0.07; stroke-linejoin: round; }
  &[data-hovered] { border-color: var(--ink); color: var(--ink); }
  &[data-selected] { border-color: var(--action); background: color-mix(in srgb, var(--action) 12%, var(--paper)); color: var(--ink); box-shadow: inset 0 0 0 1px var(--action); }
  &[data-selected] path.line { stroke: var(--action); }
`
const Sizes = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 24px minmax(0, 1fr);
  gap: 8px;
  align-items: end;
  label { grid-column: span 1; }
  small { display: block; color: var(--soft); font-size: 11px; }
`
const Under = styled.div`
  display: flex;
  justify-content: space-between;
  margin: -2px -7px 0;
  button { font-size: 12.5px; }
`
const Lock = styled(ToggleButton)`
  border: 0;
  background: none;
  width: 24px;
  height: 28px;
  padding: 0;
  color: var(--soft);
  cursor: pointer;
  &[data-selected] { color: var(--action); }
`

/** Cross-section of an edge in a unit tile: the wall at the left, the face on top. */
function ProfileDrawing({ profile }: { profile: Path | undefined }) {
  const line = profile ? toSvgPath([profile], 3, true) : 'M0 -1'
  // the face goes on from where the profile ends
  const face = profile ? profile.coords[profile.coords.length - 1] : 1
  return (
    <svg viewBox="-0.12 -1.12 1.75 1.5" aria-hidden>
      <path className="solid" d={profile ? `M0 .38L0 0${line.replace(/^M/, 'L')}L1.63 ${-face}L1.63 .38Z` : 'M0 .38L0 -1L1.63 -1L1.63 .38Z'} />
      <path className="line" d={profile ? `M0 .38L0 0${line.replace(/^M/, 'L')}L1.63 ${-face}` : 'M0 .38L0 -1L1.63 -1'} />
    </svg>
  )
}

/** A drawn profile in a unit square. */
function unitPath(drawn: NodePath): Path {
  const { inset, height } = profileSize(drawn)
  return toPath(scaledNodes(drawn, 1 / Math.max(inset, 0.01), height > 0 ? 1 / height : 1))
}

/** Profiles that are always in sight; the others unfold. */
const EVERYDAY = 6

/** The shape and size of one edge. Inset and height move together while locked. */
export function EdgeControl({ title, stepId, value, onChange }: { title: string; stepId: string; value: EdgeParams; onChange: (edge: EdgeParams) => void }) {
  const [locked, setLocked] = useState(value.inset === value.height)
  const [all, setAll] = useState(false)
  const [editing, setEditing] = useState(false)
  const { list: profiles } = useKeptProfiles()
  const shown = PROFILE_NAMES.filter((name, i) => all || i < EVERYDAY || name === value.profile)
  const own = value.profile === 'drawn' || value.profile === 'points'
  const kept = all ? profiles : []
  const chosenKept = value.profile === 'drawn' ? profiles.find((p) => p.name === value.name) : undefined
  const resize = (key: 'inset' | 'height', size: number) => {
    if (!locked) return onChange({ ...value, [key]: size })
    const other = key === 'inset' ? 'height' : 'inset'
    const ratio = value[key] > 0 ? value[other] / value[key] : 1
    onChange({ ...value, [key]: size, [other]: Number((size * ratio).toFixed(3)) })
  }
  const choose = (key: string) => {
    const profile = profiles.find((p) => p.id === key)
    if (profile) return onChange({ ...value, profile: 'drawn', drawn: profile.drawn, name: profile.name, ...sizeFor(value, profile.drawn) })
    if (key !== 'own') onChange({ ...value, profile: key as EdgeParams['profile'], name: undefined })
  }
  return (
    <Box>
      <legend>{title}</legend>
      <Tiles
        aria-label={`${title}: profile`}
        selectionMode="single"
        disallowEmptySelection
        selectedKeys={[own ? (all && chosenKept ? chosenKept.id : 'own') : value.profile]}
        onSelectionChange={(keys) => choose(String([...keys][0]))}
      >
        {shown.map((name) => (
          <Tile key={name} id={name}>
            <ProfileDrawing profile={shippedProfile(name, 1, 1)} />
            {nameOf(name)}
          </Tile>
        ))}
        {own && !(all && chosenKept) && (
          <Tile id="own">
            <ProfileDrawing profile={unitPath(drawnOf(value))} />
            {value.name ?? 'Own'}
          </Tile>
        )}
        {kept.map((profile) => (
          <Tile key={profile.id} id={profile.id}>
            <ProfileDrawing profile={unitPath(profile.drawn)} />
            {profile.name}
          </Tile>
        ))}
      </Tiles>
      <Under>
        <PlainButton onPress={() => setAll(!all)} aria-expanded={all}>
          {all ? 'Fewer profiles' : `All ${PROFILE_NAMES.length + profiles.length} profiles`}
        </PlainButton>
        <PlainButton onPress={() => setEditing(!editing)} aria-expanded={editing}>
          <PenLine size={13} aria-hidden /> Edit the curve
        </PlainButton>
      </Under>
      {editing && <ProfileEditor title={title} stepId={stepId} value={value} onChange={onChange} onClose={() => setEditing(false)} />}
      {value.profile !== 'square' && (
        <>
          <Sizes>
            <div>
              <small>Inset</small>
              <NumberInput
                hideLabel
                label={`${title}: inset`}
                value={value.inset}
                min={0}
                max={500}
                step={0.1}
                unit="mm"
                onChange={(v) => resize('inset', v)}
              />
            </div>
            <Lock aria-label={`${title}: lock inset and height together`} isSelected={locked} onChange={setLocked}>
              {locked ? <Link2 size={15} /> : <Link2Off size={15} />}
            </Lock>
            <div>
              <small>Height</small>
              <NumberInput
                hideLabel
                label={`${title}: height`}
                value={value.height}
                min={0}
                max={500}
                step={0.1}
                unit="mm"
                onChange={(v) => resize('height', v)}
              />
            </div>
          </Sizes>
          <NumberInput
            label="Flat left"
            description="The edge stops where a face this wide is left in every letter; 0 lets it close in ridges."
            value={value.flat ?? 0}
            min={0}
            max={500}
            step={0.25}
            unit="mm"
            onChange={(flat) => onChange({ ...value, flat })}
          />
        </>
      )}
    </Box>
  )
}

/** A kept profile at the edge's inset, in the proportions it was drawn in. */
function sizeFor(value: EdgeParams, drawn: NodePath): { inset: number; height: number } {
  const { inset, height } = profileSize(drawn)
  const wide = value.inset > 0 ? value.inset : inset
  return { inset: wide, height: Number((inset > 0 ? (height * wide) / inset : height).toFixed(3)) }
}
