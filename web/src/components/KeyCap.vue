<template>
  <kbd
    class="figures inline-block min-w-5 rounded-[3px] border border-b-2 border-current/40 px-1 text-center text-[0.78rem] leading-[1.3]"
    ><slot
  /></kbd>
</template>
