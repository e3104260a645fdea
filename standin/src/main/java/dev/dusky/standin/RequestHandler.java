package dev.dusky.standin;

import com.sun.net.httpserver.Headers;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpHandler;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.MessageDigest;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Answers requests: checks faults and signature, then routes by bucket, key and method. */
final class RequestHandler implements HttpHandler {

  private static final Pattern RANGE = Pattern.compile("bytes=(\\d+)-(\\d*)");
  private static final Pattern PART = Pattern.compile("<PartNumber>(\\d+)</PartNumber>");
  private static final String COPY = "x-amz-copy-source";
  private static final String META = "x-amz-meta-";

  private final Path folder;
  private final SignatureCheck signature;
  private final Faults faults;
  private final Map<String, Bucket> buckets = new ConcurrentHashMap<>();
  private final Uploads uploads = new Uploads();

  RequestHandler(Path folder, SignatureCheck signature, Faults faults) throws IOException {
    this.folder = folder;
    this.signature = signature;
    this.faults = faults;
    try (var names = Files.list(folder)) {
      for (Path bucket : names.filter(Files::isDirectory).toList()) {
        buckets.put(bucket.getFileName().toString(), new Bucket(bucket));
      }
    }
  }

  @Override
  public void handle(HttpExchange exchange) throws IOException {
    try {
      if (faults.answered(exchange)) {
        return;
      }
      signature.verify(exchange);
      route(exchange);
    } catch (StoreException e) {
      error(exchange, e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } finally {
      exchange.close();
    }
  }

  private void route(HttpExchange exchange) throws IOException, InterruptedException {
    String path = exchange.getRequestURI().getRawPath();
    int slash = path.indexOf('/', 1);
    String bucketName =
        RequestText.decode(slash < 0 ? path.substring(1) : path.substring(1, slash));
    String key = slash < 0 ? "" : RequestText.decode(path.substring(slash + 1));
    Map<String, String> query = RequestText.query(exchange.getRequestURI().getRawQuery());
    String method = exchange.getRequestMethod();
    if (key.isEmpty() && method.equals("PUT")) {
      demand(Faults.Right.WRITE);
      if (!bucketName.matches("[a-z0-9][a-z0-9.-]{1,61}[a-z0-9]")) {
        throw new StoreException(400, "InvalidBucketName", "The bucket's name is not valid.");
      }
      buckets.putIfAbsent(bucketName, new Bucket(folder.resolve(bucketName)));
      RequestText.xml(exchange, 200, "");
      return;
    }
    Bucket bucket = buckets.get(bucketName);
    if (bucket == null) {
      throw new StoreException(404, "NoSuchBucket", "The bucket does not exist.");
    }
    switch (method) {
      case "GET" -> {
        if (key.isEmpty()) {
          demand(Faults.Right.LIST);
          RequestText.xml(
              exchange,
              200,
              query.containsKey("uploads")
                  ? uploads.list(bucketName, query.getOrDefault("prefix", ""))
                  : Listing.xml(bucketName, bucket, query));
        } else if (query.containsKey("uploadId")) {
          demand(Faults.Right.LIST);
          RequestText.xml(exchange, 200, uploads.parts(query.get("uploadId")));
        } else {
          demand(Faults.Right.READ);
          get(exchange, object(bucket, key));
        }
      }
      case "HEAD" -> {
        demand(key.isEmpty() ? Faults.Right.LIST : Faults.Right.READ);
        if (!key.isEmpty()) {
          StoredObject object = object(bucket, key);
          describe(exchange, object);
          exchange.getResponseHeaders().set("Content-Length", Long.toString(object.size()));
        }
        exchange.sendResponseHeaders(200, -1);
      }
      case "PUT" -> {
        demand(Faults.Right.WRITE);
        if (exchange.getRequestHeaders().containsKey(COPY)) {
          copy(exchange, bucket, key, query);
        } else {
          put(exchange, bucket, key, query);
        }
      }
      case "POST" -> {
        demand(Faults.Right.WRITE);
        post(exchange, bucketName, bucket, key, query);
      }
      case "DELETE" -> {
        demand(Faults.Right.WRITE);
        if (query.containsKey("uploadId")) {
          uploads.abort(query.get("uploadId"));
        } else {
          String ifMatch = exchange.getRequestHeaders().getFirst("If-Match");
          if (!bucket.remove(key, ifMatch == null ? null : ifMatch.replace("\"", ""))) {
            throw new StoreException(412, "PreconditionFailed", "The object has changed.");
          }
        }
        exchange.sendResponseHeaders(204, -1);
      }
      default -> throw new StoreException(405, "MethodNotAllowed", method + " is not supported.");
    }
  }

  void pretend(String bucketName, int objects) throws IOException {
    Bucket bucket = new Bucket(folder.resolve(bucketName));
    Instant modified = Instant.ofEpochSecond(Instant.now().getEpochSecond());
    for (int i = 0; i < objects; i++) {
      String key = "day/%09d.csv".formatted(i);
      bucket.objects().put(key, new StoredObject(key, folder, 100, "e" + i, modified, Map.of()));
    }
    buckets.put(bucketName, bucket);
  }

  private void demand(Faults.Right right) {
    faults.demand(right, "AccessDenied");
  }

  private static StoredObject object(Bucket bucket, String key) {
    Optional<StoredObject> object = bucket.get(key);
    return object.orElseThrow(
        () -> new StoreException(404, "NoSuchKey", "The key does not exist."));
  }

  private static void describe(HttpExchange exchange, StoredObject object) {
    Headers headers = exchange.getResponseHeaders();
    headers.set("ETag", '"' + object.etag() + '"');
    headers.set(
        "Last-Modified",
        DateTimeFormatter.RFC_1123_DATE_TIME.format(object.modified().atOffset(ZoneOffset.UTC)));
    headers.set("Accept-Ranges", "bytes");
    headers.set("Content-Type", "application/octet-stream");
    object.metadata().forEach((name, value) -> headers.set(META + name, value));
  }

  private void get(HttpExchange exchange, StoredObject object)
      throws IOException, InterruptedException {
    String ifMatch = exchange.getRequestHeaders().getFirst("If-Match");
    if (ifMatch != null && !ifMatch.replace("\"", "").equals(object.etag())) {
      throw new StoreException(412, "PreconditionFailed", "The object has changed.");
    }
    describe(exchange, object);
    new ObjectBody(faults).send(exchange, object, exchange.getRequestHeaders().getFirst("Range"));
  }

  private void put(HttpExchange exchange, Bucket bucket, String key, Map<String, String> query)
      throws IOException {
    Path file = Files.createTempFile(folder, "incoming-", ".part");
    String etag = receive(exchange, file);
    if (query.containsKey("uploadId")) {
      uploads.add(
          query.get("uploadId"),
          Integer.parseInt(query.get("partNumber")),
          new Uploads.Part(file, etag));
    } else {
      bucket.put(key, file, etag, metadata(exchange));
    }
    exchange.getResponseHeaders().set("ETag", '"' + etag + '"');
    exchange.sendResponseHeaders(200, -1);
  }

  /** Copies an object under another key, if it still is the one that is meant. */
  private void copy(HttpExchange exchange, Bucket bucket, String key, Map<String, String> query)
      throws IOException {
    demand(Faults.Right.READ);
    String source = RequestText.decode(exchange.getRequestHeaders().getFirst(COPY));
    String path = source.startsWith("/") ? source.substring(1) : source;
    int slash = path.indexOf('/');
    Bucket from = slash < 0 ? null : buckets.get(path.substring(0, slash));
    if (from == null) {
      throw new StoreException(404, "NoSuchBucket", "The bucket does not exist.");
    }
    Path file = Files.createTempFile(folder, "incoming-", ".part");
    StoredObject object;
    synchronized (from) { // no request replaces it meanwhile
      object = object(from, path.substring(slash + 1));
      String ifMatch = exchange.getRequestHeaders().getFirst(COPY + "-if-match");
      if (ifMatch != null && !ifMatch.replace("\"", "").equals(object.etag())) {
        throw new StoreException(412, "PreconditionFailed", "The object has changed.");
      }
      Files.copy(object.file(), file, StandardCopyOption.REPLACE_EXISTING);
    }
    if (query.containsKey("uploadId")) {
      copyPart(exchange, query, file);
      return;
    }
    StoredObject made;
    synchronized (bucket) {
      if ("*".equals(exchange.getRequestHeaders().getFirst("If-None-Match"))
          && bucket.get(key).isPresent()) {
        Files.delete(file);
        throw new StoreException(412, "PreconditionFailed", "There is an object of that key.");
      }
      made = bucket.put(key, file, object.etag(), object.metadata());
    }
    RequestText.xml(
        exchange,
        200,
        new XmlText("CopyObjectResult")
            .put("LastModified", made.modified())
            .put("ETag", '"' + made.etag() + '"')
            .end());
  }

  /** Makes some of a copied file a part of an upload. */
  private void copyPart(HttpExchange exchange, Map<String, String> query, Path copied)
      throws IOException {
    Path file = Files.createTempFile(folder, "incoming-", ".part");
    Matcher range = RANGE.matcher(exchange.getRequestHeaders().getFirst(COPY + "-range"));
    if (!range.matches()) {
      throw new StoreException(400, "InvalidArgument", "The range is malformed.");
    }
    long from = Long.parseLong(range.group(1));
    MessageDigest md5 = Digests.of("MD5");
    try (InputStream in = Files.newInputStream(copied);
        OutputStream out = Files.newOutputStream(file)) {
      in.skipNBytes(from);
      byte[] bytes = in.readNBytes((int) (Long.parseLong(range.group(2)) + 1 - from));
      md5.update(bytes);
      out.write(bytes);
    }
    Files.delete(copied);
    String etag = Digests.hex(md5.digest());
    uploads.add(
        query.get("uploadId"),
        Integer.parseInt(query.get("partNumber")),
        new Uploads.Part(file, etag));
    RequestText.xml(
        exchange, 200, new XmlText("CopyPartResult").put("ETag", '"' + etag + '"').end());
  }

  /** Stores the body, checks it against the digests sent with it, and gives its etag. */
  private static String receive(HttpExchange exchange, Path file) throws IOException {
    Headers headers = exchange.getRequestHeaders();
    String declared = headers.getFirst("X-Amz-Content-Sha256");
    if (declared != null && declared.startsWith("STREAMING-")) {
      throw new StoreException(501, "NotImplemented", "Signed chunks are not supported.");
    }
    MessageDigest md5 = Digests.of("MD5");
    MessageDigest sha256 = Digests.of("SHA-256");
    InputStream in = exchange.getRequestBody(); // stays open for the answer to an error
    try (OutputStream out = Files.newOutputStream(file)) {
      byte[] buffer = new byte[64 << 10];
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        md5.update(buffer, 0, n);
        sha256.update(buffer, 0, n);
        out.write(buffer, 0, n);
      }
    }
    byte[] md5Value = md5.digest();
    String contentMd5 = headers.getFirst("Content-MD5");
    if (contentMd5 != null && !contentMd5.equals(Base64.getEncoder().encodeToString(md5Value))) {
      throw new StoreException(400, "BadDigest", "The bytes do not have the MD5 announced.");
    }
    if (declared != null
        && declared.length() == 64
        && !declared.equals(Digests.hex(sha256.digest()))) {
      throw new StoreException(
          400, "XAmzContentSHA256Mismatch", "The bytes do not have the SHA-256 announced.");
    }
    return Digests.hex(md5Value);
  }

  private static Map<String, String> metadata(HttpExchange exchange) {
    return RequestText.headers(exchange, META);
  }

  private void post(
      HttpExchange exchange,
      String bucketName,
      Bucket bucket,
      String key,
      Map<String, String> query)
      throws IOException {
    if (query.containsKey("uploads")) {
      String id = uploads.begin(bucketName, key, metadata(exchange));
      RequestText.xml(
          exchange,
          200,
          new XmlText("InitiateMultipartUploadResult")
              .put("Bucket", bucketName)
              .put("Key", key)
              .put("UploadId", id)
              .end());
      return;
    }
    if (!query.containsKey("uploadId")) {
      throw new StoreException(400, "InvalidRequest", "This request is not supported.");
    }
    String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    List<Integer> numbers = new ArrayList<>();
    Matcher part = PART.matcher(body);
    while (part.find()) {
      numbers.add(Integer.parseInt(part.group(1)));
    }
    Path whole = Files.createTempFile(folder, "incoming-", ".whole");
    StoredObject object = uploads.complete(query.get("uploadId"), numbers, bucket, whole);
    RequestText.xml(
        exchange,
        200,
        new XmlText("CompleteMultipartUploadResult")
            .put("Bucket", bucketName)
            .put("Key", key)
            .put("ETag", '"' + object.etag() + '"')
            .end());
  }

  private static void error(HttpExchange exchange, StoreException e) throws IOException {
    exchange.getRequestBody().readAllBytes();
    if (exchange.getRequestMethod().equals("HEAD")) {
      exchange.sendResponseHeaders(e.status(), -1);
      return;
    }
    RequestText.xml(
        exchange,
        e.status(),
        new XmlText("Error").put("Code", e.code()).put("Message", e.getMessage()).end());
  }
}
