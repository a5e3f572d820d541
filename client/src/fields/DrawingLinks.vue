<script setup lang="ts">
import { open } from '../route/store'
import { unit } from '../units/format'

/** The drawing of the piece as files: 1:1 on pages that are joined, as open files, and to scale on one page. */
defineProps<{ of: string }>()
const at = (form: string) => `/api/routes/${open.state?.route}/drawing/${form}?unit=${unit.value}`
</script>

<template>
  <p class="drawing">Drawing of {{ of }}. 1:1: <a :href="at('pages')" download>pages to join</a>,
    <a :href="at('svg')" download>SVG</a>, <a :href="at('dxf')" download>DXF</a>; each has a ruler to check the print
    by. To scale, with the table of places: <a :href="at('pdf')" download>one page</a>.</p>
</template>

<style scoped>
.drawing { margin: 0; }
</style>
