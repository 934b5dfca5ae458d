<template>
  <svg width="20" height="24" viewBox="0 0 22 27" aria-hidden="true">
    <polygon points="11,1 20,10 11,22 2,10" fill="var(--kite)" />
    <path d="M11 1V22M2 10H20" stroke="var(--panel)" stroke-width="1.2" />
    <path d="M11 22q-3 2 0 4" stroke="var(--ink)" fill="none" />
  </svg>
</template>
