package dev.dusky.depots.transfer;

import java.util.Locale;
import java.util.Map;

/** The media type of a file, by the end of its name. */
public final class ContentType {

  private static final String UNKNOWN = "application/octet-stream";

  private static final Map<String, String> BY_SUFFIX =
      Map.ofEntries(
          Map.entry("csv", "text/csv"),
          Map.entry("tsv", "text/tab-separated-values"),
          Map.entry("txt", "text/plain"),
          Map.entry("json", "application/json"),
          Map.entry("xml", "application/xml"),
          Map.entry("gz", "application/gzip"),
          Map.entry("zip", "application/zip"),
          Map.entry("zst", "application/zstd"),
          Map.entry("parquet", "application/vnd.apache.parquet"),
          Map.entry("avro", "application/vnd.apache.avro"),
          Map.entry("xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"));

  private ContentType() {}

  /** The media type; bytes of no known kind if the name does not say. */
  public static String of(String path) {
    String suffix = path.substring(path.lastIndexOf('.') + 1).toLowerCase(Locale.ROOT);
    return BY_SUFFIX.getOrDefault(suffix, UNKNOWN);
  }
}
