package dev.dusky.core.usage;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.concurrent.Errand;
import dev.dusky.core.concurrent.Together;
import dev.dusky.core.concurrent.Worker;
import java.math.BigInteger;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** What a meter counts: its thread and the threads that work for it, and nothing else. */
class MeterTest {

  /** Some milliseconds of a processor. */
  private static void work() {
    BigInteger product = BigInteger.ONE;
    for (int i = 1; i < 6000; i++) {
      product = product.multiply(BigInteger.valueOf(i));
    }
    assertTrue(product.bitLength() > 1000);
  }

  private static void use(int requests) {
    for (int i = 0; i < requests; i++) {
      Meter.current().ifPresent(meter -> meter.request(Request.GET));
    }
    Meter.current().ifPresent(meter -> meter.received(10));
  }

  @Test
  void threadsThatWorkForItCountHoweverDeep() {
    try (Meter meter = Meter.open()) {
      use(1);
      Worker worker =
          new Worker(
              "outer",
              () -> {
                use(2);
                Errand.start("inner", () -> IntStream.range(0, 3).peek(i -> use(1)).sum()).take();
                work();
              });
      worker.start();
      worker.join();
      Together.map(List.of(4, 5, 6), 2, n -> n).forEach(MeterTest::use);
      Together.map(
          List.of(10, 20),
          2,
          n -> {
            use(n);
            return n;
          });
      Usage usage = meter.usage();
      assertEquals(1 + 2 + 3 + 15 + 30, usage.requests().get(Request.GET));
      assertEquals(0, usage.requests().get(Request.PUT));
      assertEquals(10 * (1 + 1 + 3 + 3 + 2), usage.bytesIn());
      assertTrue(usage.processorMillis() > 0, "the time of a finished thread counts");
    }
    assertEquals(Optional.empty(), Meter.current());
    use(1000);
  }

  @Test
  void aMeterWithinAnotherCountsForItself() {
    try (Meter outer = Meter.open()) {
      use(1);
      try (Meter inner = Meter.open()) {
        use(5);
        assertEquals(5, inner.usage().requests().get(Request.GET));
      }
      use(2);
      assertEquals(3, outer.usage().requests().get(Request.GET));
    }
  }

  @Test
  void waitingIsCountedAndFailuresAreKept() throws Exception {
    assertEquals("x", Meter.waiting(() -> "x"), "without a meter work is done all the same");
    try (Meter meter = Meter.open()) {
      try {
        Meter.waiting(
            () -> {
              work();
              throw new java.io.IOException("gone");
            });
      } catch (java.io.IOException e) {
        assertEquals("gone", e.getMessage());
      }
      assertTrue(meter.usage().databaseMillis() > 0, meter.usage().toString());
    }
  }

  @Test
  void usagesAddUp() {
    Usage one = new Usage(1, 2, 3, 4, 5, Map.of(Request.LIST, 6L));
    Usage two = new Usage(10, 20, 30, 40, 50, Map.of(Request.LIST, 60L, Request.COPY, 1L));
    assertEquals(
        new Usage(11, 22, 33, 44, 55, Map.of(Request.LIST, 66L, Request.COPY, 1L)), one.plus(two));
    assertEquals(one, one.plus(Usage.NONE));
  }
}
