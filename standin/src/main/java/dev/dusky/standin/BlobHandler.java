package dev.dusky.standin;

import com.sun.net.httpserver.Headers;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpHandler;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Answers requests of the blob protocol: checks faults and access, then routes. */
final class BlobHandler implements HttpHandler {

  private static final String META = "x-ms-meta-";
  private static final String COPY = "x-ms-copy-source";
  private static final String DENIED = "AuthorizationPermissionMismatch";
  private static final Pattern BLOCK = Pattern.compile("<(Latest|Uncommitted|Committed)>([^<]*)</");

  private final Path folder;
  private final String account;
  private final BlobAccess access;
  private final Faults faults;
  private final Map<String, Bucket> containers = new ConcurrentHashMap<>();

  private final AtomicLong received = new AtomicLong();

  /** Blocks that were sent and not used yet, by blob and block. */
  private final Map<String, Map<String, Path>> blocks = new ConcurrentHashMap<>();

  BlobHandler(Path folder, String account, BlobAccess access, Faults faults) throws IOException {
    this.folder = folder;
    this.account = account;
    this.access = access;
    this.faults = faults;
    try (var names = Files.list(folder)) {
      for (Path container : names.filter(Files::isDirectory).toList()) {
        containers.put(container.getFileName().toString(), new Bucket(container));
      }
    }
  }

  long received() {
    return received.get();
  }

  void pretend(String name, int blobs) throws IOException {
    Bucket container = new Bucket(folder.resolve(name));
    Instant modified = Instant.ofEpochSecond(Instant.now().getEpochSecond());
    for (int i = 0; i < blobs; i++) {
      String key = "day/%09d.csv".formatted(i);
      container.objects().put(key, new StoredObject(key, folder, 100, "e" + i, modified, Map.of()));
    }
    containers.put(name, container);
  }

  @Override
  public void handle(HttpExchange exchange) throws IOException {
    try {
      Map<String, String> query = RequestText.query(exchange.getRequestURI().getRawQuery());
      if (!faults.answered(exchange)) {
        access.verify(exchange, query);
        route(exchange, query);
      }
    } catch (StoreException e) {
      exchange.getRequestBody().readAllBytes();
      exchange.getResponseHeaders().set("x-ms-error-code", e.code());
      boolean head = exchange.getRequestMethod().equals("HEAD");
      RequestText.xml(
          exchange,
          e.status(),
          head
              ? ""
              : new XmlText("Error").put("Code", e.code()).put("Message", e.getMessage()).end());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } finally {
      exchange.close();
    }
  }

  private void route(HttpExchange exchange, Map<String, String> query)
      throws IOException, InterruptedException {
    String[] path = exchange.getRequestURI().getRawPath().substring(1).split("/", 3);
    if (!path[0].equals(account) || path.length < 2) {
      throw new StoreException(400, "InvalidUri", "The account is not in the path.");
    }
    String name = RequestText.decode(path[1]);
    Bucket container = containers.get(name);
    if (container == null) {
      throw new StoreException(404, "ContainerNotFound", "The container does not exist.");
    }
    String key = path.length < 3 ? "" : RequestText.decode(path[2]);
    String comp = query.getOrDefault("comp", "");
    switch (exchange.getRequestMethod()) {
      case "GET" -> {
        faults.demand(comp.equals("list") ? Faults.Right.LIST : Faults.Right.READ, DENIED);
        if (comp.equals("list")) {
          RequestText.xml(exchange, 200, BlobListing.xml(container, query));
        } else if (comp.equals("blocklist")) {
          RequestText.xml(exchange, 200, blocksOf(name + "/" + key));
        } else {
          get(exchange, container, key);
        }
      }
      case "HEAD" -> {
        faults.demand(Faults.Right.READ, DENIED);
        StoredObject blob = blob(container, key);
        describe(exchange, blob);
        exchange.getResponseHeaders().set("Content-Length", Long.toString(blob.size()));
        exchange.sendResponseHeaders(200, -1);
      }
      case "PUT" -> {
        faults.demand(Faults.Right.WRITE, DENIED);
        put(exchange, container, name, key, query);
      }
      case "DELETE" -> {
        faults.demand(Faults.Right.WRITE, DENIED);
        blob(container, key);
        if (!container.remove(key, header(exchange, "If-Match"))) {
          throw new StoreException(412, "ConditionNotMet", "The blob has changed.");
        }
        exchange.sendResponseHeaders(202, -1);
      }
      default -> throw new StoreException(405, "UnsupportedHttpVerb", "It is not supported.");
    }
  }

  private static String header(HttpExchange exchange, String name) {
    String value = exchange.getRequestHeaders().getFirst(name);
    return value == null ? null : value.replace("\"", "");
  }

  private static StoredObject blob(Bucket container, String key) {
    return container
        .get(key)
        .orElseThrow(() -> new StoreException(404, "BlobNotFound", "The blob does not exist."));
  }

  private static void describe(HttpExchange exchange, StoredObject blob) {
    Headers headers = exchange.getResponseHeaders();
    headers.set("ETag", '"' + blob.etag() + '"');
    headers.set(
        "Last-Modified",
        DateTimeFormatter.RFC_1123_DATE_TIME.format(blob.modified().atOffset(ZoneOffset.UTC)));
    headers.set("x-ms-blob-type", "BlockBlob");
    headers.set("Content-Type", "application/octet-stream");
    blob.metadata().forEach((name, value) -> headers.set(META + name, value));
  }

  private void get(HttpExchange exchange, Bucket container, String key)
      throws IOException, InterruptedException {
    StoredObject blob = blob(container, key);
    String ifMatch = header(exchange, "If-Match");
    if (ifMatch != null && !ifMatch.equals(blob.etag())) {
      throw new StoreException(412, "ConditionNotMet", "The blob has changed.");
    }
    describe(exchange, blob);
    String range = exchange.getRequestHeaders().getFirst("x-ms-range");
    new ObjectBody(faults)
        .send(
            exchange, blob, range == null ? exchange.getRequestHeaders().getFirst("Range") : range);
  }

  private void put(
      HttpExchange exchange, Bucket container, String name, String key, Map<String, String> query)
      throws IOException {
    Map<String, String> metadata = RequestText.headers(exchange, META);
    switch (query.getOrDefault("comp", "")) {
      case "block" -> {
        Path file = receive(exchange);
        blocks
            .computeIfAbsent(name + "/" + key, blob -> new ConcurrentHashMap<>())
            .put(query.get("blockid"), file);
        exchange.sendResponseHeaders(201, -1);
      }
      case "blocklist" ->
          stored(exchange, container.put(key, joined(exchange, name + "/" + key), tag(), metadata));
      default -> {
        if (exchange.getRequestHeaders().containsKey(COPY)) {
          copy(exchange, container, key, metadata);
        } else {
          stored(exchange, container.put(key, receive(exchange), tag(), metadata));
        }
      }
    }
  }

  /** A tag that does not follow from the content: the protocol does not promise a digest. */
  private static String tag() {
    return "0x"
        + UUID.randomUUID().toString().replace("-", "").substring(0, 15).toUpperCase(Locale.ROOT);
  }

  private static void stored(HttpExchange exchange, StoredObject blob) throws IOException {
    describe(exchange, blob);
    exchange.sendResponseHeaders(201, -1);
  }

  private Path receive(HttpExchange exchange) throws IOException {
    Path file = Files.createTempFile(folder, "incoming-", ".part");
    MessageDigest md5 = Digests.of("MD5");
    InputStream in = exchange.getRequestBody();
    try (OutputStream out = Files.newOutputStream(file)) {
      byte[] buffer = new byte[64 << 10];
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        md5.update(buffer, 0, n);
        out.write(buffer, 0, n);
        received.addAndGet(n);
      }
    }
    String declared = exchange.getRequestHeaders().getFirst("Content-MD5");
    if (declared != null && !declared.equals(Base64.getEncoder().encodeToString(md5.digest()))) {
      throw new StoreException(400, "Md5Mismatch", "The bytes do not have the MD5 announced.");
    }
    return file;
  }

  private Path joined(HttpExchange exchange, String blob) throws IOException {
    String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    Map<String, Path> sent = blocks.getOrDefault(blob, new HashMap<>());
    List<Path> parts = new ArrayList<>();
    Matcher block = BLOCK.matcher(body);
    while (block.find()) {
      Path part = sent.get(block.group(2));
      if (part == null) {
        throw new StoreException(400, "InvalidBlockList", "A block was not sent.");
      }
      parts.add(part);
    }
    Path whole = Files.createTempFile(folder, "incoming-", ".whole");
    try (OutputStream out = Files.newOutputStream(whole)) {
      for (Path part : parts) {
        Files.copy(part, out);
      }
    }
    blocks.remove(blob);
    for (Path part : sent.values()) {
      Files.delete(part);
    }
    return whole;
  }

  private String blocksOf(String blob) throws IOException {
    XmlText xml = new XmlText("BlockList").open("UncommittedBlocks");
    for (Map.Entry<String, Path> block : blocks.getOrDefault(blob, Map.of()).entrySet()) {
      xml.open("Block")
          .put("Name", block.getKey())
          .put("Size", Files.size(block.getValue()))
          .close();
    }
    return xml.close().end();
  }

  private void copy(
      HttpExchange exchange, Bucket container, String key, Map<String, String> metadata)
      throws IOException {
    faults.demand(Faults.Right.READ, DENIED);
    URI source = URI.create(exchange.getRequestHeaders().getFirst(COPY));
    String[] path = source.getRawPath().substring(1).split("/", 3);
    Bucket from = containers.get(RequestText.decode(path[1]));
    StoredObject original = blob(from, RequestText.decode(path[2]));
    String ifMatch = header(exchange, "x-ms-source-if-match");
    if (ifMatch != null && !ifMatch.equals(original.etag())) {
      throw new StoreException(412, "SourceConditionNotMet", "The source has changed.");
    }
    Path file = Files.createTempFile(folder, "incoming-", ".copy");
    Files.delete(file);
    Files.copy(original.file(), file);
    StoredObject made;
    synchronized (container) {
      if ("*".equals(header(exchange, "If-None-Match")) && container.get(key).isPresent()) {
        Files.delete(file);
        throw new StoreException(409, "BlobAlreadyExists", "There is a blob of that name.");
      }
      made = container.put(key, file, tag(), metadata.isEmpty() ? original.metadata() : metadata);
    }
    describe(exchange, made);
    exchange.getResponseHeaders().set("x-ms-copy-id", UUID.randomUUID().toString());
    exchange.getResponseHeaders().set("x-ms-copy-status", "success");
    exchange.sendResponseHeaders(202, -1);
  }
}
