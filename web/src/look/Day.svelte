<script lang="ts">
  import { DatePicker, parseDate, Portal } from '@skeletonlabs/skeleton-svelte';
  import { contents } from './contents';

  /** A day, typed or picked; empty, or as ISO 8601 has it. */
  let { label, value = $bindable('') }: { label: string; value: string } = $props();
</script>

<DatePicker
  class="day"
  locale="en-GB"
  startOfWeek={1}
  placeholder="day/month/year"
  value={value ? [parseDate(value)] : []}
  onValueChange={(d) => (value = d.value[0]?.toString() ?? '')}
>
  <DatePicker.Label class="day-label">{label}</DatePicker.Label>
  <DatePicker.Control>
    <DatePicker.Input class="box" />
    <DatePicker.Trigger class="day-open" aria-label="Pick the day">▾</DatePicker.Trigger>
  </DatePicker.Control>
  <Portal target={contents()}>
    <DatePicker.Positioner>
      <DatePicker.Content class="sheet days">
        <DatePicker.View view="day">
          <DatePicker.Context>
            {#snippet children(picker)}
              <DatePicker.ViewControl>
                <DatePicker.PrevTrigger aria-label="The month before">‹</DatePicker.PrevTrigger>
                <DatePicker.RangeText />
                <DatePicker.NextTrigger aria-label="The month after">›</DatePicker.NextTrigger>
              </DatePicker.ViewControl>
              <DatePicker.Table>
                <DatePicker.TableHead>
                  <DatePicker.TableRow>
                    {#each picker().weekDays as day (day.long)}
                      <DatePicker.TableHeader>{day.short.slice(0, 2)}</DatePicker.TableHeader>
                    {/each}
                  </DatePicker.TableRow>
                </DatePicker.TableHead>
                <DatePicker.TableBody>
                  {#each picker().weeks as week, i (i)}
                    <DatePicker.TableRow>
                      {#each week as day (day.toString())}
                        <DatePicker.TableCell value={day}>
                          <DatePicker.TableCellTrigger>{day.day}</DatePicker.TableCellTrigger>
                        </DatePicker.TableCell>
                      {/each}
                    </DatePicker.TableRow>
                  {/each}
                </DatePicker.TableBody>
              </DatePicker.Table>
            {/snippet}
          </DatePicker.Context>
        </DatePicker.View>
      </DatePicker.Content>
    </DatePicker.Positioner>
  </Portal>
</DatePicker>

<style>
  :global(.day.day) {
    gap: var(--step);
  }
  :global(.day .day-label) {
    font: inherit;
    font-weight: 600;
  }
  :global(.day .day-open.day-open) {
    top: 5px;
    background: none;
    color: var(--ink);
  }
  :global(.days.days) {
    z-index: 40;
    background: var(--paper);
    padding: var(--step-2h);
    box-shadow: var(--lift);
  }
  :global(.days [data-part='table-cell-trigger'][data-selected]) {
    background: var(--indigo);
    color: var(--white);
  }
</style>
