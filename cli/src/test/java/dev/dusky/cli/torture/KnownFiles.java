package dev.dusky.cli.torture;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.zip.GZIPOutputStream;

/**
 * Files whose every row is known. A docket comes again in later files with a higher revision, some
 * rows are bad, some repeat the row before them, and some files have the bytes of an earlier one.
 */
final class KnownFiles {

  /** Dockets are numbered below this prime, so that a step through them meets none twice. */
  private static final int DOCKETS = 20_011;

  private static final int BAD_ONE_IN = 97;
  private static final int REPEAT_ONE_IN = 53;

  /**
   * What is known of a content.
   *
   * @param loaded rows that go into the table
   * @param repeats rows that repeat another
   * @param bad records that cannot be loaded
   * @param tenths the sum of the loaded litres, in tenths
   */
  record Content(long loaded, long repeats, long bad, long tenths) {

    long read() {
      return loaded + repeats + bad;
    }
  }

  /** What the last revision of a docket says. */
  record Docket(int revision, long tenths) {}

  private final Path folder;
  private final Random random;
  private final Map<String, Integer> contentOf = new LinkedHashMap<>();
  private final List<Content> contents = new ArrayList<>();
  private final List<byte[]> bytes = new ArrayList<>();
  private final Map<Integer, Docket> latest = new HashMap<>();

  KnownFiles(Path folder, Random random) throws IOException {
    this.folder = Files.createDirectories(folder);
    this.random = random;
  }

  /** Puts one more file into the folder, whole at once. */
  void arrive() throws IOException {
    boolean again = contents.size() > 3 && random.nextInt(6) == 0;
    int content = again ? random.nextInt(contents.size()) : made();
    String name = "%05d-%s.csv.gz".formatted(contentOf.size(), again ? "again" : "new");
    contentOf.put("collections/" + name, content);
    Path aside = folder.resolve("." + name);
    Files.write(aside, bytes.get(content));
    Path place = folder.resolve("collections").resolve(name);
    Files.createDirectories(place.getParent());
    Files.move(aside, place, StandardCopyOption.ATOMIC_MOVE);
  }

  private int made() throws IOException {
    int revision = contents.size();
    int rows = 200 + random.nextInt(4_000);
    int first = random.nextInt(DOCKETS);
    int step = 1 + random.nextInt(DOCKETS - 1);
    StringBuilder text = new StringBuilder("docket_no,revision,litres\n");
    long loaded = 0;
    long repeats = 0;
    long bad = 0;
    long sum = 0;
    for (int r = 0; r < rows; r++) {
      int docket = (int) ((first + (long) r * step) % DOCKETS);
      if (r % BAD_ONE_IN == BAD_ONE_IN - 1) {
        text.append(docket).append(',').append(revision).append(",spilt\n");
        bad++;
        continue;
      }
      long tenths = (docket * 31L + revision * 17L) % 9_000;
      String row = docket + "," + revision + "," + tenths / 10 + "." + tenths % 10 + "\n";
      text.append(row);
      loaded++;
      sum += tenths;
      latest.put(docket, new Docket(revision, tenths));
      if (r % REPEAT_ONE_IN == 0) {
        text.append(row);
        repeats++;
      }
    }
    contents.add(new Content(loaded, repeats, bad, sum));
    bytes.add(gzip(text.toString()));
    return revision;
  }

  private static byte[] gzip(String text) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (OutputStream zip = new GZIPOutputStream(out)) {
      zip.write(text.getBytes(StandardCharsets.UTF_8));
    }
    return out.toByteArray();
  }

  /** Which content each path has. */
  Map<String, Integer> paths() {
    return contentOf;
  }

  /** What is known of a content. */
  Content content(int number) {
    return contents.get(number);
  }

  /** All contents, each of which is to be posted once. */
  List<Content> contents() {
    return contents;
  }

  /** The dockets as they are once all is merged. */
  Map<Integer, Docket> dockets() {
    return latest;
  }
}
