<script lang="ts">
  import Segments from '../../../look/Segments.svelte';
  import { weight } from '../../../look/time';
  import type { Picking } from './picking.svelte';
  import { whereSays } from './lay';
  import LayOf from './LayOf.svelte';
  import { ratio, widest } from './places';

  /** The place of a picture, the picture as it came and as it goes out, and what it shows. */
  let { picking, markdown }: { picking: Picking; markdown: boolean } = $props();

  const place = $derived(widest(picking.places()));
  const phone = $derived(picking.places()?.find((p) => p.at === 390));
  const told = $derived(picking.told);
  const kinds: Record<string, string> = {
    'image/jpeg': 'JPEG',
    'image/png': 'PNG',
    'image/webp': 'WebP',
    'image/gif': 'GIF',
    'image/svg+xml': 'SVG',
    'image/avif': 'AVIF',
  };
  const told3 = $derived(
    told
      ? [
          ...(picking.put
            ? []
            : [
                [
                  'its place',
                  place
                    ? `${ratio(place.width, place.height)} · ${place.width} × ${place.height}` +
                      (phone ? `, phone ${phone.width}` : '')
                    : 'is being measured…',
                ],
              ]),
          [
            'this one',
            told.width
              ? `${ratio(told.width, told.height)} · ${told.width} × ${told.height} · ${weight(told.size)}`
              : `${kinds[told.media] ?? ''} · ${weight(told.size)}`,
          ],
          [
            'goes out as',
            told.made_width
              ? `${told.made_width} × ${told.made_height} · ${weight(told.made_size)} ${kinds[told.made_media] ?? ''}`
              : weight(told.made_size),
          ],
        ]
      : [],
  );
  // What is said of the words is said at their field.
  const found = $derived(told?.findings.filter((f) => !['picture-alternative', 'picture-says'].includes(f.rule)) ?? []);
  const ofWords = $derived(
    told?.findings.filter(
      (f) => ['picture-alternative', 'picture-says'].includes(f.rule) && f.level !== 'fine' && picking.alt.trim(),
    ) ?? [],
  );
  const webp = $derived(told && told.media !== 'image/webp');
</script>

<article class="sheet" aria-busy={picking.asking}>
  <header>
    <h3>{picking.put === 'new' ? 'A new picture' : picking.part.name}</h3>
    <span class="soft small"
      >{picking.put === 'new'
        ? `${whereSays[picking.where]} ${picking.part.name}`
        : picking.part.picture?.background
          ? 'picture behind words'
          : 'picture'}</span
    >
  </header>
  <dl>
    {#each told3 as [name, value] (name)}
      <div>
        <dt>{name}</dt>
        <dd class="mono">{value}</dd>
      </div>
    {/each}
  </dl>
  {#if told && told.files > 1}<p class="small soft">
      with {told.files - 1} more, in other sizes and for other windows
    </p>{/if}
  <div class="found" role="status">
    {#each told?.said ?? [] as say (say)}<p class="small soft">{say}</p>{/each}
    {#if picking.problem && told}<p class="said stop small">{picking.problem}</p>{/if}
    {#each found as f, i (i)}
      {#if f.level === 'fine'}
        <p class="small is-live">fine: {f.say}</p>
      {:else}
        <p class="said small {f.level}"><b>{f.level}</b> {f.say}</p>
      {/if}
    {/each}
  </div>
  {#if !picking.fixed && told}
    <div class="out">
      <label class="small"
        >points wide
        <input
          class="box"
          type="number"
          min="16"
          max={picking.kept.width}
          value={picking.wide}
          onchange={(e) => {
            picking.width = Math.min(Math.max(Math.round(Number(e.currentTarget.value)) || 16, 16), picking.kept.width);
            picking.changed();
          }}
        /></label
      >
      <Segments
        label="Format"
        choices={[
          { value: '', label: kinds[told.media] ?? 'as it came' },
          ...(told.media === 'image/jpeg' ? [] : [{ value: 'jpeg' as const, label: 'JPEG' }]),
          ...(webp ? [{ value: 'webp' as const, label: 'WebP' }] : []),
        ]}
        bind:value={
          () => picking.format,
          (v) => {
            picking.format = v;
            picking.changed();
          }
        }
      />
    </div>
  {/if}
  {#if !picking.part.picture?.background}
    <label class="field">
      <span>What it shows</span>
      <textarea
        class="box"
        rows="2"
        bind:value={picking.alt}
        disabled={picking.ornament}
        oninput={() => picking.changed()}></textarea>
      <small>alternative text, for whoever cannot see it{picking.put ? '' : '; empty for an ornament'}</small>
    </label>
    {#if picking.put}
      <label class="small"
        ><input type="checkbox" bind:checked={picking.ornament} onchange={() => picking.changed()} /> It is an ornament: there
        is nothing to say</label
      >
    {/if}
    {#each ofWords as f, i (i)}<p class="said small {f.level}">{f.say}</p>{/each}
  {/if}
  {#if picking.put}
    <LayOf
      lay={picking.lay}
      {markdown}
      onlay={(lay) => {
        picking.lay = lay;
        picking.changed();
      }}
    />
  {/if}
</article>

<style>
  article {
    padding: var(--step-3) var(--step-3h);
    border: 1.5px solid var(--indigo);
    display: grid;
    gap: var(--step-2);
  }
  header {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: var(--step-2);
  }
  h3 {
    font-size: var(--size-l);
    overflow-wrap: anywhere;
  }
  dl {
    display: grid;
    gap: var(--step);
  }
  dl div {
    display: flex;
    justify-content: space-between;
    gap: var(--step-2);
    align-items: baseline;
  }
  dt {
    color: var(--ink-soft);
  }
  dd {
    font-size: 12px;
    font-weight: 600;
    text-align: right;
  }
  .found {
    display: grid;
    gap: var(--step);
  }
  .out {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: var(--step-2);
  }
  .out label {
    display: flex;
    gap: var(--step-1h);
    align-items: center;
    white-space: nowrap;
  }
  .out input {
    width: 84px;
    padding: var(--step-half) var(--step-1h);
  }
</style>
