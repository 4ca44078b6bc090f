<script lang="ts">
  /** The width at which both pages are rendered, from phone to wide screen. */
  let { width = $bindable() }: { width: number } = $props();
  const [least, most] = [320, 1440];
  const stops = [390, 768, 1280];
  const place = (w: number) => `${((w - least) / (most - least)) * 100}%`;
</script>

<div class="rule">
  <label class="mono" for="width">width</label>
  <div class="scale">
    <input id="width" type="range" min={least} max={most} step="2" bind:value={width} aria-valuetext="{width} pixels" />
    {#each stops as s (s)}
      <button class="mono" style:left={place(s)} aria-pressed={width === s} onclick={() => (width = s)}>{s}</button>
    {/each}
  </div>
  <output class="mono" for="width">{width} px</output>
</div>

<style>
  .rule {
    flex: 1;
    display: flex;
    gap: var(--step-3h);
    align-items: center;
    height: 46px;
  }
  .scale {
    flex: 1;
    position: relative;
    height: 40px;
  }
  input {
    width: 100%;
    accent-color: var(--indigo);
    margin: 0;
    position: absolute;
    top: 0;
  }
  button {
    position: absolute;
    top: 20px;
    transform: translateX(-50%);
    padding: 1px var(--step-1h);
    cursor: pointer;
    color: var(--ink-soft);
    border-top: 2px solid var(--hem-strong);
  }
  button[aria-pressed='true'] {
    color: var(--indigo);
    border-color: var(--indigo);
    font-weight: 700;
  }
  output {
    width: 58px;
    text-align: right;
  }
</style>
