import { readDesign, type Shelved, shelfOf, VoskelError } from '@voskel/core'
import { ElMessage } from 'element-plus'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { api } from '../api/client'
import { useDesignStore } from './design'
import { useProjectsStore } from './projects'

/** Something of another design that can be used in the open one. */
export type OnShelf = Shelved & { readonly from: string }

/** Blocks and models of the other designs: those of the same project first. Looked for when somebody wants one. */
export const useShelfStore = defineStore('shelf', () => {
  const design = useDesignStore()
  const projects = useProjectsStore()
  const items = shallowRef<readonly OnShelf[]>([])
  let latest = 0

  async function look() {
    const run = ++latest
    if (!projects.projects) await projects.load()
    const own = projects.projects?.find((p) => p.designs.some((d) => d.id === design.id))
    const all = [...(own ? [own] : []), ...(projects.projects ?? []).filter((p) => p !== own)]
    const found: OnShelf[] = []
    for (const project of all) {
      const answer = await api.projectFile(project.id)
      if (run !== latest) return
      if (!answer.ok) {
        ElMessage.warning(
          `The blocks of ${project.name} are not listed: ${answer.failure.title}. ${answer.failure.detail}`,
        )
        continue
      }
      for (const stored of answer.value.designs) {
        const read = readable(stored)
        if (!read || (project === own && read.name === design.document?.name)) continue
        const from = project === own ? read.name : `${project.name}, ${read.name}`
        found.push(...shelfOf(read).map((s) => ({ ...s, from })))
      }
      items.value = [...found]
    }
    items.value = found
  }

  const blocks = computed(() => items.value.filter((s) => s.kind === 'block'))
  /** Models of a kind of part. */
  const modelsOf = (kind: string) => items.value.filter((s) => s.kind === 'model' && s.of === kind)

  return { blocks, modelsOf, look }
})

/** One damaged design does not hide the others. */
function readable(stored: unknown) {
  try {
    return readDesign(stored)
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}
