package dev.dusky.core.warehouse;

/** Where a warehouse is and how to open it. */
public sealed interface WarehouseSettings permits DatabaseSettings, LakeSettings {

  /** The address, without user and secrets. */
  String url();
}
