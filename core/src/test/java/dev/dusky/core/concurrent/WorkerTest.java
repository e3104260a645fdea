package dev.dusky.core.concurrent;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Waiting for work beside one's own, and taking its failures over. */
@Timeout(60)
class WorkerTest {

  @Test
  void anInterruptOfTheCallerDoesNotCutTheWaitAndIsKept() {
    CountDownLatch go = new CountDownLatch(1);
    AtomicInteger done = new AtomicInteger();
    Worker worker =
        new Worker(
            "test-worker",
            () -> {
              try {
                go.await();
              } catch (InterruptedException e) {
                return;
              }
              done.set(1);
            });
    worker.start();
    Thread.currentThread().interrupt();
    go.countDown();
    worker.join();
    assertTrue(Thread.interrupted());
    assertEquals(1, done.get());
  }

  @Test
  void interruptedWorkEnds() {
    AtomicInteger interrupted = new AtomicInteger();
    Worker worker =
        new Worker(
            "test-worker",
            () -> {
              try {
                new CountDownLatch(1).await();
              } catch (InterruptedException e) {
                interrupted.set(1);
              }
            });
    worker.start();
    worker.interrupt();
    worker.join();
    assertEquals(1, interrupted.get());
  }

  @Test
  void whatStoppedTheWorkIsThrownAsItIs() {
    for (Throwable failure :
        new Throwable[] {
          new IOException("cut"),
          new InterruptedException("stop"),
          new OutOfMemoryError("full"),
          new IllegalStateException("odd")
        }) {
      assertSame(failure, assertThrows(Throwable.class, () -> Worker.rethrow(failure)));
    }
  }
}
