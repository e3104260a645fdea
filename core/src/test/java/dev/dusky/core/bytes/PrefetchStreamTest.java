package dev.dusky.core.bytes;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.util.Random;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Reading ahead: nothing lost, failures passed on in their place, an end at any time. */
@Timeout(60)
class PrefetchStreamTest {

  private static byte[] bytes(int count) {
    byte[] bytes = new byte[count];
    new Random(count).nextBytes(bytes);
    return bytes;
  }

  @Test
  void givesTheSameBytesWhateverTheirNumber() throws IOException {
    for (int count : new int[] {0, 1, 512 << 10, (512 << 10) + 1, 5_000_000}) {
      byte[] expected = bytes(count);
      try (PrefetchStream stream = new PrefetchStream(new ByteArrayInputStream(expected))) {
        assertArrayEquals(expected, stream.readAllBytes());
        assertEquals(-1, stream.read(new byte[10], 0, 10));
      }
    }
  }

  @Test
  void readsOnlySoFarAhead() throws IOException {
    AtomicLong read = new AtomicLong();
    InputStream endless =
        new InputStream() {
          @Override
          public int read() {
            read.incrementAndGet();
            return 7;
          }

          @Override
          public int read(byte[] to, int offset, int length) {
            read.addAndGet(length);
            return length;
          }
        };
    try (PrefetchStream stream = new PrefetchStream(endless)) {
      assertEquals(100, stream.readNBytes(100).length);
    }
    assertTrue(read.get() <= 4 << 20, "read " + read.get());
  }

  @Test
  void aFailureComesBehindTheBytesBeforeItAndEachTimeAgain() throws IOException {
    for (Throwable failure :
        new Throwable[] {
          new IOException("cut"), new IllegalStateException("odd"), new OutOfMemoryError("full")
        }) {
      byte[] before = bytes(1_000_000);
      InputStream source =
          new SequenceInputStream(new ByteArrayInputStream(before), failing(failure));
      try (PrefetchStream stream = new PrefetchStream(source)) {
        // All whole blocks before the failure; the damaged one cannot be distinguished.
        assertArrayEquals(java.util.Arrays.copyOf(before, 512 << 10), stream.readNBytes(512 << 10));
        assertSame(failure, assertThrows(Throwable.class, stream::readAllBytes));
        assertSame(failure, assertThrows(Throwable.class, () -> stream.read(new byte[1], 0, 1)));
      }
    }
  }

  private static InputStream failing(Throwable failure) {
    return new InputStream() {
      @Override
      public int read() throws IOException {
        if (failure instanceof Error e) {
          throw e;
        }
        if (failure instanceof RuntimeException e) {
          throw e;
        }
        throw (IOException) failure;
      }
    };
  }

  @Test
  void closingStopsTheThreadAndClosesTheSource() throws IOException {
    AtomicBoolean closed = new AtomicBoolean();
    AtomicReference<Thread> reader = new AtomicReference<>();
    InputStream source =
        new ByteArrayInputStream(bytes(8_000_000)) {
          @Override
          public synchronized int read(byte[] to, int offset, int length) {
            reader.set(Thread.currentThread());
            return super.read(to, offset, length);
          }

          @Override
          public void close() {
            closed.set(true);
          }
        };
    PrefetchStream stream = new PrefetchStream(source);
    stream.readNBytes(10);
    stream.close();
    assertTrue(closed.get());
    assertFalse(reader.get().isAlive());
  }
}
