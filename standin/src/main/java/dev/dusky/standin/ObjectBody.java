package dev.dusky.standin;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Sends an object's bytes, or a range of them, with the faults that were asked for. */
final class ObjectBody {

  private static final Pattern RANGE = Pattern.compile("bytes=(\\d+)-(\\d*)");

  private final Faults faults;

  ObjectBody(Faults faults) {
    this.faults = faults;
  }

  /**
   * Sends the bytes; headers that describe the object have been set.
   *
   * @param range the range that the request asks for, or null
   */
  void send(HttpExchange exchange, StoredObject object, String range)
      throws IOException, InterruptedException {
    long from = 0;
    long to = object.size();
    int status = 200;
    if (range != null) {
      Matcher bounds = RANGE.matcher(range);
      if (!bounds.matches() || Long.parseLong(bounds.group(1)) >= object.size()) {
        throw new StoreException(416, "InvalidRange", "The range cannot be satisfied.");
      }
      from = Long.parseLong(bounds.group(1));
      to = bounds.group(2).isEmpty() ? to : Math.min(to, Long.parseLong(bounds.group(2)) + 1);
      status = 206;
      exchange
          .getResponseHeaders()
          .set("Content-Range", "bytes " + from + "-" + (to - 1) + "/" + object.size());
    }
    long cut = faults.takeCut();
    exchange.sendResponseHeaders(status, to == from ? -1 : to - from);
    if (to == from) {
      return;
    }
    try (InputStream in = Files.newInputStream(object.file())) {
      in.skipNBytes(from);
      long rest = cut >= 0 ? Math.min(cut, to - from) : to - from;
      OutputStream out = exchange.getResponseBody();
      byte[] buffer = new byte[64 << 10];
      long start = System.nanoTime();
      long sent = 0;
      while (rest > 0) {
        int n = in.read(buffer, 0, (int) Math.min(rest, buffer.length));
        out.write(buffer, 0, n);
        rest -= n;
        sent += n;
        faults.keepPace(sent, start);
      }
      if (cut < 0) {
        out.close();
      } else {
        out.flush(); // and the connection is closed with bytes still owed
      }
    }
  }
}
