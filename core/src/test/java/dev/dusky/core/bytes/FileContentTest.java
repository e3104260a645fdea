package dev.dusky.core.bytes;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import dev.dusky.core.failure.Failure;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;

class FileContentTest {

  private static byte[] gzip(byte[] data) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (GZIPOutputStream gzip = new GZIPOutputStream(out)) {
      gzip.write(data);
    }
    return out.toByteArray();
  }

  private static byte[] joined(byte[] a, byte[] b) {
    byte[] all = Arrays.copyOf(a, a.length + b.length);
    System.arraycopy(b, 0, all, a.length, b.length);
    return all;
  }

  private static FileContent open(byte[] stored) throws IOException {
    return new FileContent("a.csv", new ByteArrayInputStream(stored), ContentLimits.DEFAULT);
  }

  @Test
  void gzipIsRecognisedByContentAndCounted() throws IOException {
    byte[] text = "1,a\n".repeat(1000).getBytes();
    byte[] stored = gzip(text);
    try (FileContent content = open(stored)) {
      assertEquals(new String(text), new String(content.readAllBytes()));
      assertEquals(Compression.GZIP, content.compression());
      assertEquals(stored.length, content.storedBytes());
      assertEquals(text.length, content.contentBytes());
    }
  }

  @Test
  void plainTextStaysAsItIs() throws IOException {
    try (FileContent content = open("1,a\n".getBytes())) {
      assertEquals("1,a\n", new String(content.readAllBytes()));
      assertEquals(Compression.PLAIN, content.compression());
    }
  }

  @Test
  void gzipMembersInARowAreOneFile() throws IOException {
    try (FileContent content = open(joined(gzip("1,a\n".getBytes()), gzip("2,b\n".getBytes())))) {
      assertEquals("1,a\n2,b\n", new String(content.readAllBytes()));
    }
  }

  @Test
  void theFingerprintIsOfTheContentWhateverItsCompression() throws Exception {
    byte[] text = "1,a\n2,b\n".getBytes();
    String expected = "21b9b65adc928e9839eef57b6d75c828-8"; // as other programs compute XXH3
    try (FileContent plain = open(text);
        FileContent packed = open(gzip(text));
        FileContent other = open("1,a\n2,c\n".getBytes())) {
      plain.readAllBytes();
      packed.readAllBytes();
      other.readAllBytes();
      assertEquals(expected, plain.fingerprint());
      assertEquals(expected, packed.fingerprint());
      assertNotEquals(expected, other.fingerprint());
    }
  }

  @Test
  void aCutGzipIsAFailureOfTheFile() throws IOException {
    byte[] stored = gzip("1,abcdefgh\n".repeat(5000).getBytes());
    for (int length : new int[] {5, 20, stored.length - 4}) {
      byte[] cut = Arrays.copyOf(stored, length);
      Failure failure =
          assertThrows(
              Failure.class,
              () -> {
                try (FileContent content = open(cut)) {
                  content.readAllBytes();
                }
              });
      assertEquals(Failure.Kind.FILE, failure.kind());
      assertTrue(failure.getMessage().contains("cut or damaged"), failure.getMessage());
    }
  }

  @Test
  void aDamagedGzipIsAFailureOfTheFile() throws IOException {
    byte[] stored = gzip("1,abcdefgh\n".repeat(5000).getBytes());
    stored[stored.length - 6] ^= 0x55;
    try (FileContent content = open(stored)) {
      assertThrows(Failure.class, content::readAllBytes);
    }
  }

  @Test
  void aGzipBombIsStopped() throws IOException {
    byte[] stored = gzip(new byte[8 << 20]);
    FileContent content =
        new FileContent("a.csv", new ByteArrayInputStream(stored), new ContentLimits(250, 1 << 20));
    Failure failure = assertThrows(Failure.class, content::readAllBytes);
    assertTrue(failure.getMessage().contains("the limit is 250 to 1"), failure.getMessage());
    assertTrue(content.contentBytes() < 2 << 20);
  }

  @Test
  void errorsOfTheStorageAreNotTakenForDamage() throws IOException {
    InputStream broken = mock(InputStream.class);
    StorageException error = new StorageException("gone", null);
    byte[] head = gzip("1,a\n".repeat(100).getBytes());
    when(broken.read(any(byte[].class), anyInt(), anyInt()))
        .thenAnswer(
            call -> {
              System.arraycopy(head, 0, call.getArgument(0), call.getArgument(1), 20);
              return 20;
            })
        .thenThrow(error);
    try (FileContent content = new FileContent("a.csv", broken, ContentLimits.DEFAULT)) {
      assertSame(error, assertThrows(StorageException.class, content::readAllBytes));
    }
  }

  @Test
  void utf16EndingInTheMiddleOfACharacterIsAnError() throws IOException {
    byte[] bytes = Arrays.copyOf("ab".getBytes(StandardCharsets.UTF_16LE), 3);
    InputStream text = new Utf16Transcoding(false).decode(new ByteArrayInputStream(bytes));
    assertThrows(IOException.class, text::readAllBytes);
  }
}
