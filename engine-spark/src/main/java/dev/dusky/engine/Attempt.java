package dev.dusky.engine;

import java.io.IOException;
import java.io.Serializable;
import java.util.ArrayList;
import java.util.List;
import scala.Tuple2;

/** What the program does for one load, on whatever machine is asked. */
final class Attempt implements Serializable {

  private static final long serialVersionUID = 1;

  private final Program program;
  private final String worker;
  private final byte[] order;

  /** The work of a class of the program, for an order. */
  Attempt(Program program, String worker, byte[] order) {
    this.program = program;
    this.worker = worker;
    this.order = order;
  }

  /** Attempts a part without the rows that are left out; its reports. */
  byte[] run(byte[] part, List<byte[]> left) throws IOException {
    return (byte[])
        program.call(
            worker,
            "run",
            new Class<?>[] {byte[].class, byte[].class, byte[][].class},
            order,
            part,
            left.toArray(new byte[0][]));
  }

  /** The hashes of a part's rows, in buckets. */
  byte[][] survey(byte[] part, int buckets) throws IOException {
    return (byte[][])
        program.call(
            worker,
            "survey",
            new Class<?>[] {byte[].class, byte[].class, int.class},
            order,
            part,
            buckets);
  }

  /** The rows of a bucket that are left out, by the numbers of their parts. */
  List<Tuple2<Integer, byte[]>> resolve(List<Tuple2<Integer, byte[]>> rows) throws IOException {
    List<Tuple2<Integer, byte[]>> sorted = new ArrayList<>(rows);
    sorted.sort((a, b) -> Integer.compare(a._1, b._1));
    int[] parts = sorted.stream().mapToInt(part -> part._1).toArray();
    byte[][] hashes = sorted.stream().map(part -> part._2).toArray(byte[][]::new);
    byte[][] left =
        (byte[][])
            program.call(
                worker, "resolve", new Class<?>[] {int[].class, byte[][].class}, parts, hashes);
    List<Tuple2<Integer, byte[]>> all = new ArrayList<>();
    for (int i = 0; i < parts.length; i++) {
      if (left[i].length > 0) {
        all.add(new Tuple2<>(parts[i], left[i]));
      }
    }
    return all;
  }
}
