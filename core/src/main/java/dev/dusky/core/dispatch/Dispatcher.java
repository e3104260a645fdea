package dev.dusky.core.dispatch;

import java.util.List;
import java.util.function.BooleanSupplier;

/**
 * Attempts files on the machines of an engine. What an attempt writes belongs to no table until the
 * one who asked commits it, so an attempt that is made twice, or lost, changes nothing.
 */
public interface Dispatcher {

  /**
   * Attempts files.
   *
   * @param landed the rows of the landing table that repeats are looked for in, besides those of
   *     the files; in the order in which they landed
   * @param parts the files, divided into what one machine attempts at a time
   * @param stopped asked meanwhile; once it says true the attempts are given up
   * @return the reports of each part, in the order of its files
   * @throws dev.dusky.core.failure.Failure of kind WAREHOUSE if the engine cannot do it, of kind
   *     INTERRUPTED if the attempts were stopped
   */
  List<List<FileReport>> run(
      DispatchOrder order,
      List<LandedPart> landed,
      List<DispatchPart> parts,
      BooleanSupplier stopped);
}
