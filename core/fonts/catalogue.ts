/** A face that ships with Kelvar. The file lies beside this one; SHA-256 is its name as an asset. */
export interface ShippedFace {
  readonly id: string
  readonly name: string
  readonly file: string
  readonly kind: string
  readonly script: string
  readonly bytes: number
  readonly sha256: string
  readonly licence: string
}

/** The shipped type case, in the order it is shown. All are under the SIL Open Font License 1.1. */
export const SHIPPED_FACES: readonly ShippedFace[] = [
  {
    id: 'archivo-bold',
    name: 'Archivo Bold',
    file: 'Archivo-Bold.ttf',
    kind: 'grotesque',
    script: 'Latin',
    bytes: 120856,
    sha256: 'fb0d3a7cf205466ed1147911f81dc80788b8e42b8b3b7602f25937a9224654f6',
    licence: 'licences/archivo-OFL.txt',
  },
  {
    id: 'alfa-slab',
    name: 'Alfa Slab One',
    file: 'AlfaSlabOne-Regular.ttf',
    kind: 'slab serif',
    script: 'Latin',
    bytes: 92956,
    sha256: '5973b4362364338163f3e44d858e466b8ed4735100e54786cb2349c3adb7eb6f',
    licence: 'licences/alfa-slab-one-OFL.txt',
  },
  {
    id: 'abril-fatface',
    name: 'Abril Fatface',
    file: 'AbrilFatface-Regular.ttf',
    kind: 'didone',
    script: 'Latin',
    bytes: 58448,
    sha256: '583d89b4dee24140d8c2228b55a5b71668c172c06ee2a7c71e1d1892b2eb01d7',
    licence: 'licences/abril-fatface-OFL.txt',
  },
  {
    id: 'pacifico',
    name: 'Pacifico',
    file: 'Pacifico-Regular.ttf',
    kind: 'connected script',
    script: 'Latin',
    bytes: 315408,
    sha256: '4dac9db3fa9ca072f7861fd916bf04bdceac6069d0f3a886f5e523d922e918f1',
    licence: 'licences/pacifico-OFL.txt',
  },
  {
    id: 'fredoka',
    name: 'Fredoka SemiBold',
    file: 'Fredoka-SemiBold.ttf',
    kind: 'rounded',
    script: 'Latin',
    bytes: 49900,
    sha256: '021e30b2bb317fa3618bad84289179f93c9607220cbf9a77ff3f83d7688e43a8',
    licence: 'licences/fredoka-OFL.txt',
  },
  {
    id: 'unifraktur-cook',
    name: 'UnifrakturCook',
    file: 'UnifrakturCook-Bold.ttf',
    kind: 'blackletter',
    script: 'Latin',
    bytes: 36884,
    sha256: 'b9ed8da80463792a29675199b0f6580871025c35b2c539cad7d5de050d216a0c',
    licence: 'licences/unifrakturcook-OFL.txt',
  },
  {
    id: 'fraunces',
    name: 'Fraunces (variable)',
    file: 'Fraunces-Variable.ttf',
    kind: 'variable serif',
    script: 'Latin',
    bytes: 194036,
    sha256: 'eb9fc5a87461d756b5286384a0eaf1b44a3acda6f01259e0fdbb3c241b3731a3',
    licence: 'licences/fraunces-OFL.txt',
  },
  {
    id: 'lalezar',
    name: 'Lalezar',
    file: 'Lalezar-Regular.ttf',
    kind: 'display',
    script: 'Arabic',
    bytes: 280416,
    sha256: 'cc900337cf63c4546880b30b2a51a038085ff7966a56b1c7fb04e7c20d7d2e13',
    licence: 'licences/lalezar-OFL.txt',
  },
]
