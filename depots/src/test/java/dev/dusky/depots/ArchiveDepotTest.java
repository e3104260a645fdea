package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.depot.StagedContent;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.depots.directory.DirectoryDepot;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import java.util.Random;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ArchiveDepotTest {

  @TempDir Path folder;

  private DirectoryDepot plain;
  private ArchiveDepot depot;

  @BeforeEach
  void open() {
    plain = new DirectoryDepot("yard", folder);
    depot = new ArchiveDepot(plain, new ContentLimits(50, 1 << 20));
  }

  @AfterEach
  void close() {
    plain.close();
  }

  private static byte[] zip(Object... namesAndTexts) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(bytes)) {
      for (int i = 0; i < namesAndTexts.length; i += 2) {
        zip.putNextEntry(new ZipEntry((String) namesAndTexts[i]));
        Object content = namesAndTexts[i + 1];
        zip.write(
            content instanceof byte[] b ? b : content.toString().getBytes(StandardCharsets.UTF_8));
        zip.closeEntry();
      }
    }
    return bytes.toByteArray();
  }

  private void file(String path, byte[] bytes) throws IOException {
    Files.createDirectories(folder.resolve(path).getParent());
    Files.write(folder.resolve(path), bytes);
  }

  private List<String> paths(String prefix) {
    List<String> paths = new ArrayList<>();
    for (Iterator<StagedFile> files = depot.list(prefix); files.hasNext(); ) {
      paths.add(files.next().path());
    }
    return paths;
  }

  private String text(String path) throws IOException {
    try (InputStream in = depot.open(depot.look(path).orElseThrow())) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  private String refused(String path) {
    Failure failure = assertThrows(Failure.class, () -> text(path));
    assertEquals(Failure.Kind.FILE, failure.kind());
    return failure.getMessage();
  }

  @Test
  void everyMemberIsAFileOfItsOwn() throws IOException {
    file("drops/a.zip", zip("farms.csv", "1\n", "in/tankers.txt", "T01\n", "in/", ""));
    file("drops/b.ZIP", zip("only.csv", "2\n"));
    file("drops/c.csv", "3\n".getBytes(StandardCharsets.UTF_8));
    assertEquals(
        List.of(
            "drops/a.zip!/farms.csv",
            "drops/a.zip!/in/tankers.txt",
            "drops/b.ZIP!/only.csv",
            "drops/c.csv"),
        paths("drops/"));
    assertEquals("1\n", text("drops/a.zip!/farms.csv"));
    assertEquals("T01\n", text("drops/a.zip!/in/tankers.txt"));
    assertEquals("3\n", text("drops/c.csv"));
    assertTrue(depot.look("drops/a.zip!/none.csv").isEmpty());
    assertEquals(2, depot.look("drops/a.zip!/farms.csv").orElseThrow().size());
    assertFalse(depot.seekable(depot.look("drops/a.zip!/farms.csv").orElseThrow()));
    assertTrue(depot.seekable(depot.look("drops/c.csv").orElseThrow()));
  }

  @Test
  void aMembersVersionChangesWithItsContent() throws IOException {
    file("a.zip", zip("x.csv", "1\n", "y.csv", "1\n"));
    String before = depot.look("a.zip!/x.csv").orElseThrow().version();
    StagedFile stale = depot.look("a.zip!/x.csv").orElseThrow();
    file("a.zip", zip("x.csv", "2\n", "y.csv", "1\n", "z.csv", "more"));
    assertFalse(before.equals(depot.look("a.zip!/x.csv").orElseThrow().version()));
    Failure failure = assertThrows(Failure.class, () -> depot.open(stale));
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertTrue(failure.getMessage().contains("changed since it was listed"), failure.getMessage());
  }

  @ParameterizedTest
  @ValueSource(strings = {"../x.csv", "/etc/x.csv", "in/../../x.csv", "C:/x.csv", "a\nb.csv"})
  void unsafeNamesAreRefused(String name) throws IOException {
    file("a.zip", zip(name, "1\n", "fine.csv", "2\n"));
    assertTrue(refused("a.zip!/" + name).contains("has an unsafe name"));
    assertEquals("2\n", text("a.zip!/fine.csv"));
  }

  @Test
  void aPasswordIsTold() throws IOException {
    byte[] zip = zip("x.csv", "1\n");
    // Bit 0 of the flags says "encrypted": in the member's header and in the directory.
    for (int i = 0; i + 4 < zip.length; i++) {
      boolean member = zip[i] == 'P' && zip[i + 1] == 'K' && zip[i + 2] == 3 && zip[i + 3] == 4;
      boolean directory = zip[i] == 'P' && zip[i + 1] == 'K' && zip[i + 2] == 1 && zip[i + 3] == 2;
      if (member || directory) {
        zip[i + (member ? 6 : 8)] |= 1;
      }
    }
    file("a.zip", zip);
    assertTrue(refused("a.zip!/x.csv").contains("is protected by a password"));
  }

  @Test
  void anArchiveThatCannotBeOpenedStaysOneFile() throws IOException {
    byte[] whole = zip("x.csv", "1\n", "y.csv", "2\n");
    file("cut.zip", Arrays.copyOf(whole, whole.length - 30));
    file("text.zip", "a,b\n1,2\n".getBytes(StandardCharsets.UTF_8));
    assertEquals(List.of("cut.zip", "text.zip"), paths(""));
    assertTrue(refused("cut.zip").contains("cannot be opened as a zip archive"));
    assertTrue(refused("text.zip").contains("cannot be opened as a zip archive"));
  }

  @Test
  void aDamagedMemberIsRefused() throws IOException {
    byte[] content = new byte[50_000];
    new Random(3).nextBytes(content);
    byte[] zip = zip("x.csv", content, "y.csv", "2\n");
    Arrays.fill(zip, 20_000, 20_100, (byte) 0);
    file("a.zip", zip);
    assertTrue(refused("a.zip!/x.csv").contains("is cut or damaged"));
    assertEquals("2\n", text("a.zip!/y.csv"));
  }

  @Test
  void aBombIsStopped() throws IOException {
    file("a.zip", zip("x.csv", new byte[8 << 20]));
    assertTrue(refused("a.zip!/x.csv").contains("exceeds the decompression ratio limit"));
  }

  @Test
  void contentIsFetchedInPieces() throws IOException {
    byte[] content = new byte[1_000_000];
    new Random(7).nextBytes(content);
    file("big.bin", content);
    try (StagedContent bytes = new StagedContent(plain, plain.look("big.bin").orElseThrow())) {
      assertEquals(content.length, bytes.size());
      Random random = new Random(9);
      for (int i = 0; i < 200; i++) {
        int from = random.nextInt(content.length - 5_000);
        int length = random.nextInt(5_000);
        assertArrayEquals(
            Arrays.copyOfRange(content, from, from + length), bytes.bytes(from, length));
      }
      assertEquals(0, bytes.read(content.length, new byte[5], 0, 5));
      assertThrows(java.io.EOFException.class, () -> bytes.bytes(content.length - 2, 5));
    }
  }

  @Test
  void anArchiveThatCannotBeOpenedIsAFileThatTellsWhy() throws IOException {
    byte[] whole = zip("a.csv", "1,2\n", "b.csv", "3,4\n");
    for (int end = 1; end < whole.length; end++) {
      file("z/a.zip", Arrays.copyOf(whole, end));
      List<String> found = paths("");
      assertEquals(List.of("z/a.zip"), found, "cut at " + end);
      assertTrue(FilePattern.of("z/*.zip!/**").matches(found.get(0)));
      Failure failure = assertThrows(Failure.class, () -> text("z/a.zip"));
      assertEquals(Failure.Kind.FILE, failure.kind(), failure.getMessage());
    }
  }

  @Test
  void anEmptyArchiveHasNoFilesAndADamagedOneIsNoEmptyArchive() throws IOException {
    byte[] empty = new byte[22];
    System.arraycopy(new byte[] {'P', 'K', 5, 6}, 0, empty, 0, 4);
    file("empty.zip", empty);
    assertEquals(List.of(), paths(""));
    byte[] headless = zip("a.csv", "1,2\n");
    headless[0] = 0;
    for (int i = 0; i < headless.length - 3; i++) {
      if (headless[i] == 'P' && headless[i + 1] == 'K' && headless[i + 2] == 1) {
        headless[i] = 'Q';
      }
    }
    file("empty.zip", headless);
    assertEquals(List.of("empty.zip"), paths(""));
  }

  @Test
  void flippedBytesRefuseAMemberOrTheArchive() throws IOException {
    byte[] whole = zip("a.csv", "1,2\n".repeat(200), "b.csv", "3,4\n".repeat(200));
    Random random = new Random(5);
    for (int round = 0; round < 300; round++) {
      byte[] bytes = whole.clone();
      bytes[random.nextInt(bytes.length)] ^= (byte) (1 + random.nextInt(255));
      file("a.zip", bytes);
      List<String> found = paths("");
      assertTrue(found.size() == 2 || found.equals(List.of("a.zip")), "flipped: " + found);
      for (String path : found) {
        try {
          text(path);
        } catch (Failure failure) {
          assertEquals(Failure.Kind.FILE, failure.kind(), path + ": " + failure.getMessage());
        }
      }
    }
  }

  @Test
  void aFileWhoseOwnPathLooksLikeAMembersIsAFile() throws IOException {
    for (String path : List.of("odd!/a.csv", "b.zip!/c.csv", "x!/y.zip!/z.csv")) {
      file(path, "1,2\n".getBytes(StandardCharsets.UTF_8));
    }
    List<String> found = paths("");
    assertEquals(List.of("b.zip!/c.csv", "odd!/a.csv", "x!/y.zip!/z.csv"), found);
    for (String path : found) {
      assertEquals("1,2\n", text(path));
      assertTrue(FilePattern.of("**").matches(path));
    }
  }
}
