package dev.dusky.standin;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Instant;
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

  private record Upload(
      String bucket,
      String key,
      Instant begun,
      Map<String, String> metadata,
      Map<Integer, Part> parts) {}

  private final Map<String, Upload> uploads = new ConcurrentHashMap<>();

  String begin(String bucket, String key, Map<String, String> metadata) {
    String id = UUID.randomUUID().toString();
    Instant now = Instant.ofEpochSecond(Instant.now().getEpochSecond());
    uploads.put(id, new Upload(bucket, key, now, metadata, new ConcurrentSkipListMap<>()));
    return id;
  }

  /** The list of a bucket's uploads under way whose keys start with a prefix. */
  String list(String bucket, String prefix) {
    XmlText xml = new XmlText("ListMultipartUploadsResult");
    xml.put("Bucket", bucket).put("Prefix", prefix).put("IsTruncated", false);
    uploads.forEach(
        (id, upload) -> {
          if (upload.bucket().equals(bucket) && upload.key().startsWith(prefix)) {
            xml.open("Upload")
                .put("Key", upload.key())
                .put("UploadId", id)
                .put("Initiated", upload.begun())
                .close();
          }
        });
    return xml.end();
  }

  /** The list of an upload's parts that have arrived. */
  String parts(String id) throws IOException {
    Upload upload = find(id);
    XmlText xml = new XmlText("ListPartsResult");
    xml.put("Bucket", upload.bucket()).put("Key", upload.key()).put("UploadId", id);
    xml.put("IsTruncated", false);
    for (Map.Entry<Integer, Part> part : upload.parts().entrySet()) {
      xml.open("Part")
          .put("PartNumber", part.getKey())
          .put("LastModified", upload.begun())
          .put("ETag", '"' + part.getValue().etag() + '"')
          .put("Size", Files.size(part.getValue().file()))
          .close();
    }
    return xml.end();
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
