package dev.dusky.cli;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.TreeMap;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;

/** Looks into the folder of a stand-in's bucket, not by way of the program. */
final class StoredFiles {

  private StoredFiles() {}

  /** The decompressed content of all objects below a prefix, in the order of their keys. */
  static List<byte[]> of(Path bucket, String prefix) throws IOException {
    Map<String, byte[]> found = new TreeMap<>();
    try (Stream<Path> files = Files.list(bucket)) {
      for (Path file : files.filter(f -> f.toString().endsWith(".properties")).toList()) {
        Properties properties = new Properties();
        try (InputStream in = Files.newInputStream(file)) {
          properties.load(in);
        }
        String key = URLDecoder.decode(properties.getProperty("key"), StandardCharsets.UTF_8);
        if (key.startsWith(prefix)) {
          Path content =
              file.resolveSibling(file.getFileName().toString().replace(".properties", ".bytes"));
          found.put(key, plain(Files.readAllBytes(content)));
        }
      }
    }
    return new ArrayList<>(found.values());
  }

  private static byte[] plain(byte[] gzip) throws IOException {
    try (InputStream in = new GZIPInputStream(new ByteArrayInputStream(gzip))) {
      return in.readAllBytes();
    }
  }
}
