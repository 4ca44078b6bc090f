<script lang="ts">
  import { answer, api, words, type Schemas } from '../../api/client';
  import { signIn } from '../../api/session.svelte';

  let name = $state('');
  let password = $state('');
  let problem = $state('');
  let busy = $state(false);
  let people = $state<Schemas['DemoPerson'][]>([]);

  answer(api.GET('/people')).then(
    (p) => (people = p),
    () => {},
  );

  async function enter(e: Event) {
    e.preventDefault();
    busy = true;
    problem = '';
    try {
      await signIn(name, password);
    } catch (e) {
      problem = words(e);
    } finally {
      busy = false;
    }
  }
</script>

<main class="door">
  <form class="sheet" onsubmit={enter}>
    <h1><span class="mark">mendry</span></h1>
    <p class="soft">Clients’ letters in, changed sites out, and a record that proves it.</p>
    {#if problem}<p class="said" role="alert">{problem}</p>{/if}
    <label class="field"
      ><span>Name</span><input class="box" bind:value={name} autocomplete="username" required /></label
    >
    <label class="field"
      ><span>Password</span><input
        class="box"
        type="password"
        bind:value={password}
        autocomplete="current-password"
        required
      /></label
    >
    <button class="btn go" disabled={busy}>Sign in</button>
  </form>
  {#if people.length > 0}
    <section class="demo" aria-label="People of the demo">
      <h2>This is the demo</h2>
      <p class="soft">Harbour Lane Web Care, three people. Come in as</p>
      {#each people as p (p.sign_in)}
        <button
          class="btn"
          disabled={busy}
          onclick={(e) => {
            name = p.sign_in;
            password = p.password;
            enter(e);
          }}>{p.name} <span class="soft small">{p.role} · {p.sign_in} · {p.password}</span></button
        >
      {/each}
    </section>
  {/if}
</main>

<style>
  .door {
    min-height: 100vh;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    justify-content: center;
    gap: var(--step-10);
    padding: var(--step-6);
  }
  form {
    width: 360px;
    padding: var(--step-7);
    display: grid;
    gap: var(--step-3h);
  }
  .mark {
    font: 700 34px/1 var(--display);
    letter-spacing: -0.03em;
    padding-bottom: var(--step-1h);
    background: repeating-linear-gradient(90deg, var(--weld) 0 9px, transparent 9px 14px) left bottom/100% 3px no-repeat;
  }
  form .btn {
    justify-content: center;
  }
  .demo {
    display: grid;
    gap: var(--step-2h);
    width: 380px;
  }
  .demo .btn {
    justify-content: space-between;
  }
</style>
