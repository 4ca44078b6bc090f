<script lang="ts">
  import { words } from '../../api/client';

  /** The client's name below the answers, and what sends both. */
  let {
    left,
    notYet,
    name = $bindable(),
    more = $bindable(),
    send,
  }: {
    /** How many changes are not answered yet, and how many are not right yet. */
    left: number;
    notYet: number;
    name: string;
    /** One thing more that they ask for, which stops nothing. */
    more: string;
    send: () => Promise<void>;
  } = $props();
  let busy = $state(false);
  let problem = $state('');

  async function submit(e: Event) {
    e.preventDefault();
    busy = true;
    problem = '';
    try {
      await send();
    } catch (e) {
      problem = words(e);
    } finally {
      busy = false;
    }
  }
</script>

<form class="sheet" onsubmit={submit}>
  <label class="field"
    ><span>One thing more? <span class="soft">It stops none of these.</span></span><textarea
      class="box"
      rows="2"
      bind:value={more}
      maxlength="2000"></textarea></label
  >
  <label class="field"
    ><span>{notYet > 0 ? 'Your name' : 'Your name, as your signature'}</span><input
      class="box"
      bind:value={name}
      autocomplete="name"
      maxlength="190"
      required
    /></label
  >
  {#if problem}<p class="said" role="alert">{problem}</p>{/if}
  <button class="btn go big" disabled={busy || left > 0}>
    {#if busy}Sending…{:else if left > 0}{left}
      {left === 1 ? 'change' : 'changes'} to answer{:else if notYet > 0}Send back {notYet}
      {notYet === 1 ? 'note' : 'notes'}{:else}Sign, all is right{/if}
  </button>
  <p class="soft small">Nothing goes live until all are right. You get a copy of what you sign by mail.</p>
</form>

<style>
  form {
    padding: var(--step-3h);
    display: grid;
    gap: var(--step-3);
  }
  .big {
    width: 100%;
    justify-content: center;
    padding: var(--step-3h);
    font-size: var(--size-l);
    background: var(--walnut);
    border-color: var(--walnut);
    white-space: normal;
  }
</style>
