package dev.dusky.depots.transfer;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;

import dev.dusky.core.bytes.StorageException;
import dev.dusky.depots.DepotContract;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

class ResumingStreamTest {

  private static final byte[] BYTES = DepotContract.random(10_000);

  private final List<Long> openedAt = new ArrayList<>();
  private final Runnable abort = mock(Runnable.class);

  /** Opens at a position and breaks off after that many bytes, by an error or by a quiet end. */
  private ResumingStream.Source open(long from, int most, boolean quiet) {
    openedAt.add(from);
    InputStream rest =
        new ByteArrayInputStream(Arrays.copyOfRange(BYTES, (int) from, BYTES.length));
    InputStream in =
        new InputStream() {
          private int left = most;

          @Override
          public int read() {
            throw new UnsupportedOperationException();
          }

          @Override
          public int read(byte[] b, int off, int len) throws IOException {
            if (left == 0) {
              if (quiet) {
                return -1;
              }
              throw new IOException("connection reset");
            }
            int n = rest.read(b, off, Math.min(len, left));
            left -= Math.max(n, 0);
            return n;
          }
        };
    return new ResumingStream.Source(in, abort);
  }

  @Test
  void everyByteComesOnceHoweverOftenTheLineBreaks() throws IOException {
    try (InputStream in = new ResumingStream("a", BYTES.length, from -> open(from, 3000, false))) {
      assertArrayEquals(BYTES, in.readAllBytes());
    }
    assertEquals(List.of(0L, 3000L, 6000L, 9000L), openedAt);
  }

  @Test
  void aQuietEndThatComesTooEarlyIsABreakToo() throws IOException {
    try (InputStream in = new ResumingStream("a", BYTES.length, from -> open(from, 7000, true))) {
      assertArrayEquals(BYTES, in.readAllBytes());
    }
    assertEquals(List.of(0L, 7000L), openedAt);
  }

  @Test
  void withoutProgressItGivesUp() throws IOException {
    try (InputStream in = new ResumingStream("a", BYTES.length, from -> open(from, 0, false))) {
      StorageException e = assertThrows(StorageException.class, in::readAllBytes);
      assertEquals("a broke off 6 times at byte 0 of 10,000: connection reset", e.getMessage());
    }
    verify(abort, times(6)).run();
  }

  @Test
  void anEmptyObjectIsNotEvenOpened() throws IOException {
    ResumingStream.Opener opener = mock(ResumingStream.Opener.class);
    try (InputStream in = new ResumingStream("a", 0, opener)) {
      assertEquals(-1, in.read());
    }
    verify(opener, never()).open(anyLong());
  }
}
