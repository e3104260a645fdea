package dev.dusky.depots.web;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;

/** A web server with a folder in memory, as simple ones list and serve folders. */
final class WebFolder implements AutoCloseable {

  private final HttpServer server;
  private final NavigableMap<String, byte[]> files = new TreeMap<>();
  private final Map<String, Integer> versions = new TreeMap<>();
  private final AtomicInteger unavailable = new AtomicInteger();
  private final AtomicInteger cuts = new AtomicInteger();
  private volatile String authorization;
  private volatile boolean ranges = true;
  private volatile boolean marks = true;
  private volatile boolean lists = true;

  WebFolder() throws IOException {
    System.setProperty("sun.net.httpserver.nodelay", "true");
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
    server.setExecutor(
        Executors.newCachedThreadPool(
            work -> {
              Thread thread = new Thread(work, "web-folder");
              thread.setDaemon(true);
              return thread;
            }));
    server.createContext("/", this::handle);
    server.start();
  }

  String url() {
    return "http://127.0.0.1:" + server.getAddress().getPort() + "/out";
  }

  synchronized void put(String path, byte[] bytes) {
    files.put(path, bytes);
    versions.merge(path, 1, Integer::sum);
  }

  /** Wants this header in every request. */
  void authorization(String header) {
    authorization = header;
  }

  /** Serves whole files only. */
  void withoutRanges() {
    ranges = false;
  }

  /** Has neither etags nor dates. */
  void withoutMarks() {
    marks = false;
  }

  /** Shows no pages for folders. */
  void withoutLists() {
    lists = false;
  }

  /** Answers the next requests with 503. */
  void unavailable(int requests) {
    unavailable.set(requests);
  }

  /** Cuts the next answers in the middle. */
  void cut(int answers) {
    cuts.set(answers);
  }

  private static boolean takes(AtomicInteger count) {
    return count.getAndUpdate(n -> Math.max(0, n - 1)) > 0;
  }

  private void handle(HttpExchange exchange) throws IOException {
    try (exchange) {
      String path = exchange.getRequestURI().getRawPath();
      if (takes(unavailable)) {
        exchange.getResponseHeaders().set("Retry-After", "0");
        exchange.sendResponseHeaders(503, -1);
      } else if (authorization != null
          && !authorization.equals(exchange.getRequestHeaders().getFirst("Authorization"))) {
        exchange.sendResponseHeaders(401, -1);
      } else if (path.startsWith("/moved/")) {
        exchange.getResponseHeaders().set("Location", path.replaceFirst("/moved", "/out"));
        exchange.sendResponseHeaders(302, -1);
      } else if (!path.startsWith("/out/")) {
        exchange.sendResponseHeaders(404, -1);
      } else if (path.endsWith("/")) {
        list(exchange, decode(path.substring("/out/".length())));
      } else {
        file(exchange, decode(path.substring("/out/".length())));
      }
    }
  }

  private static String decode(String text) {
    return URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8);
  }

  private synchronized void list(HttpExchange exchange, String folder) throws IOException {
    if (!lists) {
      exchange.sendResponseHeaders(403, -1);
      return;
    }
    TreeSet<String> names = new TreeSet<>();
    for (String path : files.keySet()) {
      if (path.startsWith(folder)) {
        String rest = path.substring(folder.length());
        int slash = rest.indexOf('/');
        names.add(slash < 0 ? rest : rest.substring(0, slash + 1));
      }
    }
    StringBuilder page =
        new StringBuilder("<html><body><a href='?C=N;O=D'>Name</a> <a href='../'>up</a><ul>");
    for (String name : names) {
      boolean below = name.endsWith("/");
      String bare = below ? name.substring(0, name.length() - 1) : name;
      page.append("<li><a href=\"./")
          .append(URLEncoder.encode(bare, StandardCharsets.UTF_8).replace("+", "%20"))
          .append(below ? "/" : "")
          .append("\">x</a>");
    }
    byte[] bytes = page.append("</ul></body></html>").toString().getBytes(StandardCharsets.UTF_8);
    exchange.getResponseHeaders().set("Content-Type", "text/html; charset=utf-8");
    exchange.sendResponseHeaders(200, bytes.length);
    exchange.getResponseBody().write(bytes);
  }

  private void file(HttpExchange exchange, String path) throws IOException {
    byte[] bytes;
    synchronized (this) {
      bytes = files.get(path);
      if (bytes != null && marks) {
        exchange.getResponseHeaders().set("ETag", "\"v" + versions.get(path) + "\"");
      }
    }
    if (bytes == null) {
      exchange.sendResponseHeaders(404, -1);
      return;
    }
    if (exchange.getRequestMethod().equals("HEAD")) {
      exchange.getResponseHeaders().set("Content-Length", Integer.toString(bytes.length));
      exchange.sendResponseHeaders(200, -1);
      return;
    }
    String range = exchange.getRequestHeaders().getFirst("Range");
    int from = 0;
    int to = bytes.length;
    if (range != null && ranges) {
      String[] bounds = range.replace("bytes=", "").split("-", 2);
      from = Integer.parseInt(bounds[0]);
      to = bounds[1].isEmpty() ? to : Math.min(to, Integer.parseInt(bounds[1]) + 1);
      exchange
          .getResponseHeaders()
          .set("Content-Range", "bytes %d-%d/%d".formatted(from, to - 1, bytes.length));
    }
    exchange.sendResponseHeaders(range != null && ranges ? 206 : 200, to == from ? -1 : to - from);
    OutputStream out = exchange.getResponseBody();
    out.write(bytes, from, takes(cuts) ? (to - from) / 3 : to - from);
    out.flush();
  }

  @Override
  public void close() {
    server.stop(0);
  }
}
