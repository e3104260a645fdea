package dev.dusky.core.record;

import java.io.IOException;

/** Gives any range of a file's bytes; used by several threads at once. */
@FunctionalInterface
public interface RangeBytes {

  /** Bytes from a position on; fewer than asked for only at the end of the file. */
  byte[] bytes(long position, int length) throws IOException;
}
