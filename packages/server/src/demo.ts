import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { readDesign } from '@voskel/core'
import type { DesignRepo } from './repos/designRepo.js'
import type { ProjectRepo } from './repos/projectRepo.js'

/** demo/project.json */
interface DemoProject {
  id: string
  name: string
  description: string
  /** Files beside it, in order. */
  designs: string[]
}

/** Loads the demo scenario into a database that has no project yet. */
export async function loadDemo(folder: string, projects: ProjectRepo, designs: DesignRepo): Promise<void> {
  if ((await projects.list()).length > 0) return
  const read = (file: string): unknown => JSON.parse(readFileSync(join(folder, file), 'utf8'))
  const project = read('project.json') as DemoProject
  await projects.insert(project)
  for (const file of project.designs) {
    await designs.insert(project.id, readDesign(read(file)), file.replace(/^.*\/|\.json$/g, ''))
  }
}
