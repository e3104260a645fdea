package dev.dusky.core.depot;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

class UplinkTest {

  /** Requests of parts and of files share the connections, whichever thread they come from. */
  @Test
  void noMoreRequestsAreUnderWayThanThereAreConnections() throws Exception {
    AtomicInteger now = new AtomicInteger();
    AtomicInteger most = new AtomicInteger();
    Callable<Integer> request =
        () -> {
          most.accumulateAndGet(now.incrementAndGet(), Math::max);
          Thread.yield();
          return now.decrementAndGet();
        };
    try (Uplink uplink = new Uplink(3, 0, bytes -> {})) {
      List<Thread> files = new ArrayList<>();
      for (int file = 0; file < 5; file++) {
        files.add(new Thread(() -> oneFile(uplink, request)));
      }
      files.forEach(Thread::start);
      for (Thread file : files) {
        file.join();
      }
    }
    assertEquals(0, now.get());
    assertTrue(most.get() >= 1 && most.get() <= 3, most + " at a time");
  }

  private static void oneFile(Uplink uplink, Callable<Integer> request) {
    List<Callable<Integer>> parts = new ArrayList<>();
    for (int part = 0; part < 40; part++) {
      parts.add(() -> uplink.request(request));
    }
    try {
      uplink.all(parts);
      uplink.request(request);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  @Test
  void resultsComeInTheOrderOfTheWork() throws Exception {
    CountDownLatch second = new CountDownLatch(1);
    try (Uplink uplink = new Uplink(2, 0, bytes -> {})) {
      List<String> results =
          uplink.all(
              List.of(
                  () -> {
                    second.await();
                    return "first";
                  },
                  () -> {
                    second.countDown();
                    return "second";
                  }));
      assertEquals(List.of("first", "second"), results);
    }
  }

  @Test
  void aFailureIsThatOfTheWorkAndStopsTheRest() {
    IOException why = new IOException("no");
    AtomicInteger done = new AtomicInteger();
    List<Callable<Integer>> work = new ArrayList<>();
    work.add(
        () -> {
          throw why;
        });
    CountDownLatch never = new CountDownLatch(1);
    for (int i = 0; i < 100; i++) {
      work.add(
          () -> {
            never.await();
            return done.incrementAndGet();
          });
    }
    try (Uplink uplink = new Uplink(2, 0, bytes -> {})) {
      assertSame(why, assertThrows(IOException.class, () -> uplink.all(work)));
    }
    assertEquals(0, done.get());
  }

  @Test
  void aPacedStreamGivesTheSameBytes() throws IOException {
    byte[] bytes = new byte[300_000];
    new Random(1).nextBytes(bytes);
    try (Uplink uplink = new Uplink(1, 1_000_000_000, sent -> {});
        InputStream in = uplink.paced(new ByteArrayInputStream(bytes))) {
      assertArrayEquals(bytes, in.readAllBytes());
    }
  }
}
