/**
 * What parameters of models mean that Voskel does not offer, by model type, as the published descriptions of these models
 * name them: those that change what a circuit does. Others say how a part is made, drawn or rated. Source: I. E. Getreu,
 * Modeling the Bipolar Transistor, 1976; P. Antognetti, G. Massobrio, Semiconductor Device Modeling, 1988; from memory.
 */
const MEANT: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  D: {
    ikf: 'the current bends at high injection',
    isr: 'the recombination current of the junction',
    nr: 'the emission coefficient of that current',
    nbv: 'how sharply it breaks down',
    trs1: 'the series resistance follows temperature',
    trs2: 'the series resistance follows temperature',
    tbv1: 'the breakdown follows temperature',
  },
  NPN: {
    irb: 'the base resistance falls with current',
    rbm: 'the least base resistance',
    xtf: 'the transit time grows with current',
    vtf: 'the transit time follows the collector’s voltage',
    itf: 'the transit time grows with current',
    ptf: 'excess phase',
    xcjc: 'part of the collector’s capacitance is at the base’s terminal',
    iss: 'the substrate’s junction',
    ns: 'the substrate’s junction',
    qco: 'quasi-saturation',
    rco: 'quasi-saturation',
    vo: 'quasi-saturation',
    gamma: 'quasi-saturation',
    nk: 'how the gain falls at high currents',
  },
  NMOS: {
    rsh: 'resistance of source and drain by their squares',
    js: 'the junctions’ current by their area',
    jssw: 'the junctions’ current by their edge',
    nsub: 'threshold and body effect from the doping',
    nss: 'threshold from the surface charge',
    nfs: 'current below the threshold',
    tpg: 'threshold from the gate’s material',
    xj: 'short channels',
    ucrit: 'mobility at high fields',
    uexp: 'mobility at high fields',
    utra: 'mobility at high fields',
    vmax: 'the carriers’ highest speed',
    neff: 'the channel’s charge',
    delta: 'narrow channels',
    theta: 'mobility falls with the gate’s voltage',
    eta: 'the threshold falls with the drain’s voltage',
    kappa: 'the current’s slope in saturation',
    wd: 'the channel’s width as made',
    tnom: 'the temperature at which it was measured',
  },
}
const OTHERS: Readonly<Record<string, string>> = { PNP: 'NPN', PMOS: 'NMOS' }

/** Names beyond which a list ends. */
const MOST = 8

/** What a model has that is not offered, in a sentence: which of it matters, and how much does not. */
export function notOffered(type: string, names: readonly string[]): string {
  const meant = MEANT[OTHERS[type] ?? type] ?? {}
  const matter = names.filter((name) => Object.hasOwn(meant, name))
  const listed = matter.slice(0, MOST).map((name) => `${name.toUpperCase()} (${meant[name]})`)
  const more = matter.length > MOST ? ` and ${matter.length - MOST} more` : ''
  const rest = names.length - matter.length
  const others = rest === 0 ? '' : `${rest} ${rest === 1 ? 'other' : 'others'} of which none is known to change a curve`
  if (matter.length === 0)
    return `Left out: ${names
      .slice(0, MOST)
      .map((n) => n.toUpperCase())
      .join(', ')}${names.length > MOST ? ' …' : ''}, of which none is known to change a curve.`
  return `Left out, and it may matter: ${listed.join(', ')}${more}${others && `; besides ${others}`}.`
}
