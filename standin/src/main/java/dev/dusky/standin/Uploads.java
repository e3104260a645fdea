package dev.dusky.standin;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentSkipListMap;

/** Multipart uploads under way. */
final class Uploads {

  /** A part that has arrived. */
  record Part(Path file, String etag) {}

  private record Upload(String key, Map<String, String> metadata, Map<Integer, Part> parts) {}

  private final Map<String, Upload> uploads = new ConcurrentHashMap<>();

  String begin(String key, Map<String, String> metadata) {
    String id = UUID.randomUUID().toString();
    uploads.put(id, new Upload(key, metadata, new ConcurrentSkipListMap<>()));
    return id;
  }

  void add(String id, int number, Part part) {
    find(id).parts().put(number, part);
  }

  private Upload find(String id) {
    Upload upload = uploads.get(id);
    if (upload == null) {
      throw new StoreException(404, "NoSuchUpload", "There is no such upload.");
    }
    return upload;
  }

  /** Puts the parts together into an object. */
  StoredObject complete(String id, List<Integer> numbers, Bucket bucket, Path whole)
      throws IOException {
    Upload upload = find(id);
    MessageDigest etags = Digests.of("MD5");
    try (OutputStream out = Files.newOutputStream(whole)) {
      for (int number : numbers) {
        Part part = upload.parts().get(number);
        if (part == null) {
          throw new StoreException(400, "InvalidPart", "Part " + number + " was not uploaded.");
        }
        Files.copy(part.file(), out);
        etags.update(HexFormat.of().parseHex(part.etag()));
      }
    }
    abort(id);
    String etag = Digests.hex(etags.digest()) + "-" + numbers.size();
    return bucket.put(upload.key(), whole, etag, upload.metadata());
  }

  void abort(String id) throws IOException {
    Upload upload = uploads.remove(id);
    if (upload != null) {
      for (Part part : upload.parts().values()) {
        Files.deleteIfExists(part.file());
      }
    }
  }
}
