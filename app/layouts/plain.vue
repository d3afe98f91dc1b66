<template>
  <VMain>
    <StaleNotice />
    <div class="page">
      <VCard class="card" border flat>
        <slot />
      </VCard>
    </div>
  </VMain>
</template>

<style scoped>
.page {
  display: grid;
  place-items: center;
  min-height: 100dvh;
  padding: 16px;
}
.card {
  width: 100%;
  max-width: 420px;
  padding: 28px;
}
</style>
