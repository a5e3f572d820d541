<template>
  <main class="out">
    <h1>Birch Route</h1>
    <p class="word">You are not signed in here. Open the sign-in link that <b>./birch demo</b> printed where it was started. Each link works once; start again for a new one.</p>
  </main>
</template>

<style scoped>
.out { max-width: 560px; margin: 18vh auto; padding: 0 34px; }
p { font-size: 18px; margin-top: 14px; }
</style>
