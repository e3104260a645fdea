package dev.dusky.bench;

import com.sun.management.OperatingSystemMXBean;
import java.lang.management.ManagementFactory;
import java.util.Arrays;
import java.util.Locale;

/**
 * Measures two things in turn, A B A B …, and prints their times, the processor time of this
 * process, and the ratio pair by pair.
 */
final class Turns {

  /** Work to be timed. */
  @FunctionalInterface
  interface Work {
    void run() throws Exception;
  }

  private static final OperatingSystemMXBean SYSTEM =
      (OperatingSystemMXBean) ManagementFactory.getOperatingSystemMXBean();

  private final int warmUps;
  private final int counted;

  /** That many pairs, or as many as {@code -Dturns} says. */
  Turns(int warmUps, int counted) {
    this.counted = Integer.getInteger("turns", counted);
    this.warmUps = Math.min(warmUps, this.counted);
  }

  /**
   * Measures.
   *
   * @param reset run before each measurement, not timed
   */
  void compare(String a, Work workA, String b, Work workB, Work reset) throws Exception {
    double[] timesA = new double[counted];
    double[] timesB = new double[counted];
    double[] ratios = new double[counted];
    double[] processorA = new double[counted];
    double[] processorB = new double[counted];
    for (int i = -warmUps; i < counted; i++) {
      double before = processor();
      double timeA = time(workA, reset);
      double between = processor();
      double timeB = time(workB, reset);
      if (i >= 0) {
        timesA[i] = timeA;
        timesB[i] = timeB;
        ratios[i] = timeA / timeB;
        processorA[i] = between - before;
        processorB[i] = processor() - between;
      }
    }
    print(a, timesA, "s");
    print("  processor time", processorA, "s");
    print(b, timesB, "s");
    print("  processor time", processorB, "s");
    print("ratio " + a + " / " + b, ratios, "");
    Results.note(Ratio.of(a, b, ratios));
  }

  private static double processor() {
    return SYSTEM.getProcessCpuTime() / 1e9;
  }

  private static double time(Work work, Work reset) throws Exception {
    reset.run();
    long start = System.nanoTime();
    work.run();
    return (System.nanoTime() - start) / 1e9;
  }

  private static void print(String name, double[] values, String unit) {
    double[] sorted = values.clone();
    Arrays.sort(sorted);
    System.out.printf(
        Locale.ROOT,
        "  %-46s median %.3f%s  (min %.3f, max %.3f)%n",
        name,
        sorted[sorted.length / 2],
        unit,
        sorted[0],
        sorted[sorted.length - 1]);
  }
}
