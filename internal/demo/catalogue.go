package demo

// Catalogue is the workshop's own catalogue: the invented processors, chipsets
// and boards of the demo, laid over the embedded entries as a user would lay
// them.
const Catalogue = `# The workshop's own entries. Everything here is made up for the demo.
epitome-catalogue: 1

processors:
  - id: harbour-petrel-8
    maker: Harbour Silicon
    family: Petrel 8
    brand: Petrel P[35]-8[0-9]{3}
    cpuid: {family: 6, models: [200]}
    takes:
      - generation: DDR4
        channels: 2
        slots_per_channel: 1
        rate: 2400
        rate_dual_rank: 2400
        maximum: 32GB
        largest_die: 8Gbit
        x4: no
        x16: yes
        ecc: none
        volts: 1.2
      - {generation: LPDDR3, channels: 2, rate: 2133, maximum: 16GB}
    basis: data sheet HS-8200, table 4

  - id: harbour-petrel-7
    maker: Harbour Silicon
    family: Petrel 7
    brand: Petrel P[35]-7[0-9]{3}
    cpuid: {family: 6, models: [199]}
    takes:
      - generation: DDR4
        channels: 2
        slots_per_channel: 1
        rate: 2133
        maximum: 32GB
        largest_die: 8Gbit
        x4: no
        x16: yes
        ecc: none
        volts: 1.2
    basis: data sheet HS-7100, table 4
    confidence: medium

  - id: harbour-sandpiper
    maker: Harbour Silicon
    family: Sandpiper
    brand: Sandpiper S5-1[0-9]{3}
    cpuid: {family: 6, models: [240]}
    takes:
      - {generation: LPDDR4, channels: 2, rate: 4266, maximum: 32GB, ecc: none}
    basis: data sheet HS-1100, table 2

  - id: harbour-gannet
    maker: Harbour Silicon
    family: Gannet
    brand: Gannet G[57]-3[0-9]{3}
    cpuid: {family: 23, models: [113]}
    takes:
      - generation: DDR4
        channels: 2
        slots_per_channel: 2
        rate: 3200
        rate_dual_rank: 3200
        rate_two_modules: 2933
        rate_two_dual_rank: 2666
        maximum: 128GB
        largest_die: 16Gbit
        x4: no
        x16: yes
        ecc: udimm
        ecc_if: board
        volts: 1.2
    basis: data sheet HS-3000, tables 7 and 8

chipsets:
  # The Dunlin processors have no memory controller of their own.
  - id: harbour-31h
    maker: Harbour Silicon
    name: 31H
    pci_ids: "fafa:0b31"
    takes:
      - generation: DDR3
        channels: 2
        slots_per_channel: 2
        rate: 1066
        rate_dual_rank: 1066
        rate_two_modules: 1066
        rate_two_dual_rank: 1066
        maximum: 16GB
        largest_die: 2Gbit
        x4: no
        x16: yes
        ecc: none
        volts: 1.5
    profiles: no
    basis: data sheet HS-31H, table 3

  - id: harbour-x570
    maker: Harbour Silicon
    name: X47
    pci_ids: "fafa:0c47"
    profiles: yes
    basis: data sheet HS-X47

boards:
  - maker: Groyne
    names: Breakwater X
    generations: DDR4
    takes: DIMM
    maximum: 128GB
    per_slot: 32GB
    slots:
      - {name: DIMM_A1, channel: A, order: 3}
      - {name: DIMM_A2, channel: A, order: 1}
      - {name: DIMM_B1, channel: B, order: 4}
      - {name: DIMM_B2, channel: B, order: 2}
    rates:
      - {modules_per_channel: 1, rate: 3200}
      - {modules_per_channel: 2, ranks: 1, rate: 2933}
      - {modules_per_channel: 2, ranks: 2, rate: 2666}
    profiles: yes
    ecc: none
    volts: 1.2
    basis: manual GBX-2, pages 14 and 15
`
