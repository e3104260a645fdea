package dev.dusky.engine;

import org.apache.hadoop.fs.RawLocalFileSystem;

/** A folder of this machine, without the checksum files that would lie beside the tables' files. */
public final class PlainFolder extends RawLocalFileSystem {

  /** Made by the engine, by its class. */
  public PlainFolder() {}

  @Override
  public String getScheme() {
    return "file";
  }
}
