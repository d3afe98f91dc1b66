<template>
  <VMain>
    <slot />
  </VMain>
</template>
