package dev.dusky.core.bytes;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.github.luben.zstd.ZstdOutputStream;
import dev.dusky.core.failure.Failure;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Random;
import java.util.zip.GZIPOutputStream;
import org.apache.commons.compress.compressors.bzip2.BZip2CompressorOutputStream;
import org.apache.commons.compress.compressors.lz4.FramedLZ4CompressorOutputStream;
import org.apache.commons.compress.compressors.snappy.FramedSnappyCompressorOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.tukaani.xz.LZMA2Options;
import org.tukaani.xz.XZOutputStream;

/** Every compression is detected by its content, read to the same bytes, and bounded. */
class CompressionTest {

  private static byte[] compressed(Compression compression, byte[] content) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (OutputStream out =
        switch (compression) {
          case PLAIN -> bytes;
          case GZIP -> new GZIPOutputStream(bytes);
          case ZSTD -> new ZstdOutputStream(bytes);
          case BZIP2 -> new BZip2CompressorOutputStream(bytes);
          case XZ -> new XZOutputStream(bytes, new LZMA2Options());
          case LZ4 -> new FramedLZ4CompressorOutputStream(bytes);
          case SNAPPY -> new FramedSnappyCompressorOutputStream(bytes);
        }) {
      out.write(content);
    }
    return bytes.toByteArray();
  }

  private static byte[] text(int lines) {
    StringBuilder text = new StringBuilder("docket_no,litres\n");
    Random random = new Random(5);
    for (int i = 0; i < lines; i++) {
      text.append(480_000 + i).append(',').append(random.nextInt(9_000)).append('\n');
    }
    return text.toString().getBytes(StandardCharsets.US_ASCII);
  }

  private static FileContent open(byte[] stored, ContentLimits limits) throws IOException {
    return new FileContent("a.csv", new ByteArrayInputStream(stored), limits);
  }

  @ParameterizedTest
  @EnumSource(Compression.class)
  void isToldByItsContentAndRead(Compression compression) throws IOException {
    byte[] content = text(1_500);
    byte[] stored = compressed(compression, content);
    assertEquals(compression, Compression.recognise(Arrays.copyOf(stored, Compression.LOOK)));
    try (FileContent in = open(stored, ContentLimits.DEFAULT)) {
      assertEquals(compression, in.compression());
      assertArrayEquals(content, in.readAllBytes());
      assertEquals(content.length, in.contentBytes());
      assertEquals(stored.length, in.storedBytes());
    }
  }

  @ParameterizedTest
  @EnumSource(value = Compression.class, mode = EnumSource.Mode.EXCLUDE, names = "PLAIN")
  void theFingerprintIsThatOfTheContent(Compression compression) throws IOException {
    byte[] content = text(100);
    try (FileContent plain = open(content, ContentLimits.DEFAULT);
        FileContent in = open(compressed(compression, content), ContentLimits.DEFAULT)) {
      plain.readAllBytes();
      in.readAllBytes();
      assertEquals(plain.fingerprint(), in.fingerprint());
    }
  }

  @ParameterizedTest
  @EnumSource(value = Compression.class, mode = EnumSource.Mode.EXCLUDE, names = "PLAIN")
  void aCutFileIsRefused(Compression compression) throws IOException {
    byte[] stored = compressed(compression, text(1_500));
    byte[] cut = Arrays.copyOf(stored, stored.length * 2 / 3);
    Failure failure =
        assertThrows(
            Failure.class,
            () -> {
              try (FileContent in = open(cut, ContentLimits.DEFAULT)) {
                in.readAllBytes();
              }
            });
    assertEquals(Failure.Kind.FILE, failure.kind());
    assertTrue(failure.getMessage().contains("is cut or damaged"), failure.getMessage());
    assertTrue(
        failure.getMessage().contains("the " + compression.label() + " data"),
        failure.getMessage());
  }

  @ParameterizedTest
  @EnumSource(
      value = Compression.class,
      mode = EnumSource.Mode.INCLUDE,
      names = {"GZIP", "ZSTD", "BZIP2", "XZ"})
  void aBombIsStopped(Compression compression) throws IOException {
    byte[] stored = compressed(compression, new byte[8 << 20]);
    Failure failure =
        assertThrows(
            Failure.class,
            () -> {
              try (FileContent in = open(stored, new ContentLimits(100, 1 << 20))) {
                in.readAllBytes();
              }
            });
    assertTrue(
        failure.getMessage().contains("exceeds the decompression ratio limit"),
        failure.getMessage());
  }

  @Test
  void textThatBeginsLikeACompressionIsText() throws IOException {
    for (String text : new String[] {"BZh9 is a code\n", "(µ", "7zXZ\n", ""}) {
      byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
      try (FileContent in = open(bytes, ContentLimits.DEFAULT)) {
        assertEquals(Compression.PLAIN, in.compression(), text);
        assertArrayEquals(bytes, in.readAllBytes());
      }
    }
  }

  @Test
  void membersInARowAreOneContent() throws IOException {
    for (Compression compression :
        new Compression[] {Compression.GZIP, Compression.BZIP2, Compression.XZ, Compression.ZSTD}) {
      ByteArrayOutputStream both = new ByteArrayOutputStream();
      both.write(compressed(compression, "one\n".getBytes(StandardCharsets.US_ASCII)));
      both.write(compressed(compression, "two\n".getBytes(StandardCharsets.US_ASCII)));
      try (FileContent in = open(both.toByteArray(), ContentLimits.DEFAULT)) {
        assertEquals("one\ntwo\n", new String(in.readAllBytes(), StandardCharsets.US_ASCII));
      }
    }
  }

  @Test
  void keptBytesAreThoseFromTheHeldPositionOn() throws IOException {
    byte[] content = text(60_000);
    ReplayStream stream = new ReplayStream(new ByteArrayInputStream(content), 100_000);
    byte[] buffer = new byte[8_000];
    long position = 0;
    Random random = new Random(11);
    while (position < content.length) {
      int read = stream.read(buffer, 0, 1 + random.nextInt(buffer.length));
      position += Math.max(0, read);
      long from = Math.max(0, position - 1 - random.nextInt(2_000));
      stream.hold(from);
      int more = stream.read(buffer, 0, buffer.length);
      if (more <= 0) {
        break;
      }
      position += more;
      assertArrayEquals(
          Arrays.copyOfRange(content, (int) from, (int) position),
          Arrays.copyOfRange(stream.bytes(), stream.at(from), stream.at(position)));
      stream.release();
    }
  }

  @Test
  void ofWhatIsHeldTooLongTheHeadStays() throws IOException {
    byte[] content = text(60_000);
    ReplayStream stream = new ReplayStream(new ByteArrayInputStream(content), 100_000);
    stream.hold(0);
    byte[] all = stream.readAllBytes();
    assertEquals(content.length, all.length);
    assertTrue(stream.cut());
    assertArrayEquals(Arrays.copyOf(content, stream.head().length), stream.head());
    assertTrue(stream.bytes().length < 400_000, "memory stays bounded");
  }
}
