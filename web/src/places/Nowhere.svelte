<script lang="ts">
  import { route } from '../router';
</script>

<div class="page">
  <h1>There is no such place</h1>
  <p class="mt-2">
    There is nothing at {route.pathname}. The address may have a typing error. <a href="/">Go to Today</a>.
  </p>
</div>
