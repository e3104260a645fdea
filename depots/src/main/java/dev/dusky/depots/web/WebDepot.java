package dev.dusky.depots.web;

import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.folders.ReadOnlyDepot;
import dev.dusky.depots.transfer.ResumingStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpResponse;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A folder of a web server (RFC 9110), which is only read. It can be listed where the server has
 * pages that list its folders.
 */
public final class WebDepot extends ReadOnlyDepot {

  private final WebAddress web;
  private final WebRequests requests;

  /** A depot at an address that begins with {@code http://} or {@code https://}. */
  public WebDepot(DepotAddress address) {
    super(address);
    URI root;
    try {
      root = URI.create(address.at().replaceFirst("/*$", "/"));
    } catch (IllegalArgumentException e) {
      throw wrong(address, "that is not a URL");
    }
    if (root.getHost() == null || root.getRawQuery() != null || root.getUserInfo() != null) {
      throw wrong(address, "it must have scheme, host and path alone");
    }
    this.web =
        new WebAddress(
            root,
            address.credentials() instanceof Credentials.SharedAccess signed
                ? Optional.of(signed.token())
                    .map(Secret::reveal)
                    .map(q -> q.replaceFirst("^\\?", ""))
                : Optional.empty());
    this.requests = new WebRequests(address);
  }

  private static Failure wrong(DepotAddress address, String why) {
    return Failure.configuration("Depot " + address.name() + " is at " + address.at())
        .because(why)
        .hint("Write at: https://host/folder; user, password or token belong under credentials:");
  }

  @Override
  public Iterator<StagedFile> list(String prefix, String after) {
    return new WebListing(
        name(), web.root(), prefix, after, this::page, path -> look(path).orElse(null));
  }

  private HttpResponse<InputStream> page(URI folder) {
    HttpResponse<InputStream> answer = requests.send("GET", folder, Map.of());
    if (answer.statusCode() != 200) {
      throw refused("Listing " + WebAddress.shown(folder), answer);
    }
    return answer;
  }

  @Override
  public Optional<StagedFile> look(String path) {
    String doing = "Looking at " + path;
    HttpResponse<InputStream> answer = requests.send("HEAD", web.of(path), Map.of());
    boolean unknown = answer.statusCode() == 405 || answer.statusCode() == 501;
    // An address that is signed for reading alone refuses to be looked at.
    boolean signed = answer.statusCode() == 403 && web.query().isPresent();
    if (unknown || signed) {
      close(answer);
      answer = requests.send("GET", web.of(path), Map.of("Range", "bytes=0-0"));
    }
    close(answer);
    if (answer.statusCode() == 404 || answer.statusCode() == 410) {
      return Optional.empty();
    }
    if (answer.statusCode() != 200 && answer.statusCode() != 206) {
      throw refused(doing, answer);
    }
    long size =
        size(answer)
            .orElseThrow(
                () ->
                    Failure.depot(doing + " in depot " + name() + " failed")
                        .because("the server does not say how large the file is")
                        .hint("Fetch the file by other means, and stage it from this machine"));
    return Optional.of(new StagedFile(path, size, mark(answer), modified(answer)));
  }

  private static Optional<Long> size(HttpResponse<?> answer) {
    Optional<String> range = answer.headers().firstValue("Content-Range");
    if (answer.statusCode() == 206 && range.isPresent()) {
      String whole = range.get().substring(range.get().lastIndexOf('/') + 1);
      return whole.matches("\\d{1,18}") ? Optional.of(Long.parseLong(whole)) : Optional.empty();
    }
    return answer
        .headers()
        .firstValue("Content-Length")
        .filter(text -> text.matches("\\d{1,18}"))
        .map(Long::parseLong);
  }

  /** What changes with the content: the etag, or the date; if there is neither, only the size. */
  private static String mark(HttpResponse<?> answer) {
    return answer
        .headers()
        .firstValue("ETag")
        .or(() -> answer.headers().firstValue("Last-Modified"))
        .map(text -> text.replace("\"", ""))
        .orElse("unmarked");
  }

  private static Instant modified(HttpResponse<?> answer) {
    Optional<String> date = answer.headers().firstValue("Last-Modified");
    try {
      return date.map(text -> Instant.from(DateTimeFormatter.RFC_1123_DATE_TIME.parse(text)))
          .orElse(Instant.EPOCH);
    } catch (DateTimeParseException e) {
      return Instant.EPOCH; // the date is shown, and never decides
    }
  }

  @Override
  public InputStream open(StagedFile file) throws IOException {
    return new ResumingStream(file.path(), file.size(), from -> openAt(file, from));
  }

  private ResumingStream.Source openAt(StagedFile file, long from) {
    InputStream in = from(file, from, from == 0 ? Map.of() : range(from + "-"));
    return new ResumingStream.Source(in, () -> close(in));
  }

  private static Map<String, String> range(String bytes) {
    return Map.of("Range", "bytes=" + bytes);
  }

  /** The file's bytes from a position on, also where the server gives only whole files. */
  private InputStream from(StagedFile file, long position, Map<String, String> headers) {
    String doing = "Reading " + file.path();
    HttpResponse<InputStream> answer = requests.send("GET", web.of(file.path()), headers);
    int status = answer.statusCode();
    if (status != 200 && status != 206 && status != 416) {
      throw refused(doing, answer);
    }
    boolean changed =
        status == 416
            || !mark(answer).equals(file.mark())
            || size(answer).filter(size -> size != file.size()).isPresent();
    if (changed) {
      close(answer);
      throw Failure.depot(doing + " in depot " + name() + " stopped")
          .because("the file changed since it was listed")
          .hint("Nothing of it was used. Run again");
    }
    try {
      if (status == 200) {
        answer.body().skipNBytes(position);
      } else if (!begins(answer, position)) {
        close(answer);
        throw Failure.depot(doing + " in depot " + name() + " failed")
            .because("other bytes came than those from %,d on".formatted(position))
            .hint("The answer was not used. Check the server and the proxies before it");
      }
    } catch (IOException e) {
      close(answer);
      throw Failure.depot(doing + " in depot " + name() + " failed")
          .because(String.valueOf(e.getMessage()))
          .hint("Run again")
          .from(e);
    }
    return answer.body();
  }

  private static boolean begins(HttpResponse<?> answer, long position) {
    return answer
        .headers()
        .firstValue("Content-Range")
        .filter(range -> range.startsWith("bytes " + position + "-"))
        .isPresent();
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) throws IOException {
    try (InputStream in = from(file, position, range(position + "-" + (position + length - 1)))) {
      return in.readNBytes(length);
    }
  }

  private static void close(HttpResponse<InputStream> answer) {
    close(answer.body());
  }

  private static void close(InputStream in) {
    try {
      in.close();
    } catch (IOException e) {
      // The connection is given up in any case.
    }
  }

  private Failure refused(String doing, HttpResponse<InputStream> answer) {
    close(answer);
    int status = answer.statusCode();
    Failure failure =
        Failure.depot(doing + " in depot " + name() + " failed")
            .because("%s answered %d".formatted(web.root().getHost(), status));
    return switch (status) {
      case 401 ->
          failure.hint("Give user and password, or a token, under credentials: of the depot");
      case 403 -> failure.hint("Ask the server's owner for the right to read there");
      case 404 -> failure.hint("Correct at: of the depot, or the name of the file");
      case 407 -> failure.hint("Give user and password under proxy: of the depot");
      default ->
          failure.hint(
              status == 429 || status >= 500
                  ? "It was tried several times. Run again when the server is available"
                  : "Correct what the server asks for; a retry without a change fails again");
    };
  }

  @Override
  public List<ProbeStep> probe() {
    return List.of();
  }

  @Override
  public void close() {
    // The client of Java closes idle connections by itself.
  }
}
