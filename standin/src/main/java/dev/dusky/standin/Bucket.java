package dev.dusky.standin;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.Properties;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.stream.Stream;

/**
 * A bucket as a folder. Each object is two files named after its hashed key, its bytes and its
 * properties, so that any key can be kept; an index in memory, read when the bucket is opened, has
 * the keys in the order of their UTF-8 bytes.
 */
final class Bucket {

  private static final String CONTENT = ".bytes";
  private static final String PROPERTIES = ".properties";
  private static final String META = "meta.";

  private final Path folder;
  private final NavigableMap<String, StoredObject> objects =
      new ConcurrentSkipListMap<>(
          (a, b) ->
              Arrays.compareUnsigned(
                  a.getBytes(StandardCharsets.UTF_8), b.getBytes(StandardCharsets.UTF_8)));

  Bucket(Path folder) throws IOException {
    this.folder = Files.createDirectories(folder);
    try (Stream<Path> files = Files.list(folder)) {
      for (Path file : files.filter(f -> f.toString().endsWith(PROPERTIES)).toList()) {
        StoredObject object = read(file);
        objects.put(object.key(), object);
      }
    }
  }

  private static StoredObject read(Path file) throws IOException {
    Properties properties = new Properties();
    try (InputStream in = Files.newInputStream(file)) {
      properties.load(in);
    }
    Map<String, String> metadata = new HashMap<>();
    for (String name : properties.stringPropertyNames()) {
      if (name.startsWith(META)) {
        metadata.put(name.substring(META.length()), properties.getProperty(name));
      }
    }
    String base = file.toString();
    Path content = Path.of(base.substring(0, base.length() - PROPERTIES.length()) + CONTENT);
    return new StoredObject(
        URLDecoder.decode(properties.getProperty("key"), StandardCharsets.UTF_8),
        content,
        Files.size(content),
        properties.getProperty("etag"),
        Instant.parse(properties.getProperty("modified")),
        metadata);
  }

  NavigableMap<String, StoredObject> objects() {
    return objects;
  }

  Optional<StoredObject> get(String key) {
    return Optional.ofNullable(objects.get(key));
  }

  /** Takes over a finished file as an object. */
  synchronized StoredObject put(String key, Path bytes, String etag, Map<String, String> metadata)
      throws IOException {
    String name =
        Digests.hex(Digests.sha256(key.getBytes(StandardCharsets.UTF_8))).substring(0, 40);
    Path content = folder.resolve(name + CONTENT);
    Files.move(bytes, content, StandardCopyOption.REPLACE_EXISTING);
    Properties properties = new Properties();
    // Whole seconds: that is all that the protocol's dates carry.
    Instant modified = Instant.ofEpochSecond(Instant.now().getEpochSecond());
    properties.setProperty("key", URLEncoder.encode(key, StandardCharsets.UTF_8));
    properties.setProperty("etag", etag);
    properties.setProperty("modified", modified.toString());
    metadata.forEach((k, v) -> properties.setProperty(META + k, v));
    try (OutputStream out = Files.newOutputStream(folder.resolve(name + PROPERTIES))) {
      properties.store(out, null);
    }
    StoredObject object =
        new StoredObject(key, content, Files.size(content), etag, modified, Map.copyOf(metadata));
    objects.put(key, object);
    return object;
  }

  /** Removes an object; false if it is not the one with that entity tag, where one is given. */
  synchronized boolean remove(String key, String etag) throws IOException {
    StoredObject there = objects.get(key);
    if (etag != null && there != null && !there.etag().equals(etag)) {
      return false;
    }
    StoredObject object = objects.remove(key);
    if (object != null) {
      String content = object.file().toString();
      Files.deleteIfExists(object.file());
      Files.deleteIfExists(
          Path.of(content.substring(0, content.length() - CONTENT.length()) + PROPERTIES));
    }
    return true;
  }
}
