<script lang="ts">
  import { answer, api, type Schemas } from '../../api/client';
  import { Doing } from '../../look/doing.svelte';
  import { refresh } from '../../api/session.svelte';
  import Key from '../../look/Key.svelte';
  import { onKeys } from '../../look/keys.svelte';
  import { say } from '../../look/toast';
  import Ask from '../../parts/Ask.svelte';
  import { go } from '../../router';
  import Top from '../request/Top.svelte';
  import ClearOver from './ClearOver.svelte';

  /** The head of a proof, with what is done with all of it: sent, cleared, published. */
  let {
    proof,
    page,
    changes,
    onproof,
  }: { proof: Schemas['Proof']; page?: number; changes: number; onproof: (p: Schemas['Proof']) => void } = $props();

  const number = $derived(proof.row.number);
  const stands = $derived(proof.edited && !proof.edited.why_not); // there is a shorter way than another round
  let asking = $state(false);
  let reminding = $state(false);
  let overruling = $state(false);
  const doing = new Doing();
  const { run } = doing;

  const send = () =>
    run(async () => {
      const sent = await answer(api.POST('/requests/{number}/proof', { params: { path: { number } } }));
      onproof(sent);
      say(`Sent to ${sent.contact_name}.`);
    });
  onKeys(() => ({
    c: (down) =>
      down && !doing.busy && proof.can_clear && !proof.can_publish && proof.row.state !== 'with client' && askToClear(),
    s: (down) => down && !doing.busy && (proof.can_remind || proof.can_send) && !proof.can_publish && ask(),
    p: (down) => down && proof.can_publish && go(`/requests/${number}/release`),
  }));
  function ask() {
    if (proof.can_remind) reminding = true;
    else asking = true;
  }
  const remind = () =>
    run(async () => {
      const done = await answer(api.POST('/requests/{number}/proof/remind', { params: { path: { number } } }));
      onproof(done);
      say(`${done.contact_name} is reminded.`);
    });
  function askToClear() {
    if (proof.not_yet.length) overruling = true;
    else void clear();
  }
  const clear = (why?: string) =>
    run(async () => {
      const path = { number };
      await answer(
        api.POST('/requests/{number}/state', { params: { path }, body: { to: 'cleared', ...(why && { why }) } }),
      );
      refresh();
      go(`/requests/${number}/release`);
    });
</script>

<Top row={proof.row} {page}>
  {#if proof.can_publish}
    <a class="btn go" href="/requests/{number}/release"
      >Publish {changes} {changes === 1 ? 'change' : 'changes'} <Key k="P" /></a
    >
  {:else if proof.row.state === 'with client'}
    <button class="btn" disabled={!(proof.can_remind || proof.can_send) || doing.busy} onclick={ask}
      >{proof.can_remind ? 'Remind them' : 'Send again'} <Key k="S" /></button
    >
  {:else}
    {#if proof.can_clear}<button class="btn" disabled={doing.busy} onclick={askToClear}
        >Clear it ourselves <Key k="C" /></button
      >{/if}
    <button class={['btn', !stands && 'go']} disabled={!proof.can_send || doing.busy} onclick={() => (asking = true)}
      >{doing.busy ? 'Sending…' : 'Send to client'} <Key k="S" /></button
    >
  {/if}
</Top>
<ClearOver bind:open={overruling} {proof} onclear={(why) => void clear(why)} />
<Ask bind:open={asking} title="Send to {proof.contact_name}?" act="Send the proof" onact={send}>
  {proof.contact_mail} gets a letter with a link that needs no account. {changes === 1
    ? 'One change'
    : `${changes} changes`} can be answered there one by one. Nothing goes live.
</Ask>
<Ask bind:open={reminding} title="Remind {proof.contact_name}?" act="Send the reminder" onact={remind}>
  {proof.round?.sent_to} gets a letter that this waits for an answer, with the link that they have already.
</Ask>
