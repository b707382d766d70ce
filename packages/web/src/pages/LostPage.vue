<template>
  <main class="lost">
    <h1>There is nothing at this address</h1>
    <p><RouterLink :to="{ name: 'projects' }">Go to the projects</RouterLink></p>
  </main>
</template>

<style scoped>
.lost {
  display: grid;
  gap: 12px;
  padding-top: 20vh;
  text-align: center;
}
</style>
