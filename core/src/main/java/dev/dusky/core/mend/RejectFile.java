package dev.dusky.core.mend;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.record.NumberedRecords;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.text.SafeText;
import java.io.BufferedOutputStream;
import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Writes rejects for repair: their raw records in the feed's own layout, each with its number, and
 * beside them the reasons as text. Files with different headers or encodings, which cannot share a
 * file, get one each.
 */
public final class RejectFile implements Closeable {

  private final Path base;
  private final NumberedRecords form;
  private final Map<String, OutputStream> files = new LinkedHashMap<>();
  private final List<Path> paths = new ArrayList<>();
  private final Path reasonsPath;
  private OutputStream reasons;
  private long count;

  /**
   * Writes to files with names that begin with this path.
   *
   * @param base the path without an extension
   */
  public RejectFile(Path base, Feed feed) {
    this.base = base;
    this.form = new NumberedRecords(feed.layout());
    this.reasonsPath = base.resolveSibling(base.getFileName() + ".reasons.txt");
  }

  /** Adds a reject. */
  public void add(StoredReject reject) {
    try {
      OutputStream out = open(reject.preamble());
      form.write(out, reject.preamble(), reject.id(), reject.latest());
      reason(reject);
      count++;
    } catch (IOException e) {
      throw new UncheckedIOException("writing rejects to " + base + " failed", e);
    }
  }

  private OutputStream open(byte[] preamble) throws IOException {
    String key = Arrays.toString(preamble);
    OutputStream open = files.get(key);
    if (open == null) {
      String number = files.isEmpty() ? "" : "-" + (files.size() + 1);
      Path path = base.resolveSibling(base.getFileName() + number + "." + form.extension());
      open = new BufferedOutputStream(Files.newOutputStream(path));
      files.put(key, open);
      paths.add(path);
      form.begin(open, preamble);
    }
    return open;
  }

  private void reason(StoredReject reject) throws IOException {
    if (reasons == null) {
      reasons = new BufferedOutputStream(Files.newOutputStream(reasonsPath));
      paths.add(reasonsPath);
    }
    StringBuilder text =
        new StringBuilder("reject %d  %s%n".formatted(reject.id(), SafeText.line(reject.where())));
    for (Problem problem : reject.reject().problems()) {
      text.append(
          "    %s%s: %s%n"
              .formatted(
                  problem.code().label(),
                  problem.column().isEmpty() ? "" : " in " + problem.column(),
                  SafeText.line(problem.message())));
    }
    reasons.write(text.toString().getBytes(StandardCharsets.UTF_8));
  }

  /** How many rejects were written. */
  public long count() {
    return count;
  }

  /** The files written, the reasons among them. */
  public List<Path> paths() {
    return List.copyOf(paths);
  }

  @Override
  public void close() throws IOException {
    for (OutputStream out : files.values()) {
      form.end(out);
      out.close();
    }
    if (reasons != null) {
      reasons.close();
    }
  }
}
