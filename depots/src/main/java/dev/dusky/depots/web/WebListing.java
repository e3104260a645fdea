package dev.dusky.depots.web;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.folders.TreeListing;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.URLDecoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Element;

/**
 * Walks the folders of a web server by the pages that list their content: links that lead one name
 * down are files, or folders if they end with a slash; all others are ignored.
 */
final class WebListing extends TreeListing<URI> {

  /** The largest page that is read, in bytes. */
  private static final int MOST_BYTES = 16 << 20;

  /** The deepest folder that is followed, against links in a circle. */
  private static final int MOST_LEVELS = 32;

  private final String depot;
  private final Function<URI, HttpResponse<InputStream>> get;
  private final Function<String, StagedFile> look;

  /**
   * A listing.
   *
   * @param get fetches a page
   * @param look looks at a file, null if it has gone
   */
  WebListing(
      String depot,
      URI root,
      String prefix,
      String after,
      Function<URI, HttpResponse<InputStream>> get,
      Function<String, StagedFile> look) {
    super(prefix, after);
    this.depot = depot;
    this.get = get;
    this.look = look;
    begin(root);
  }

  @Override
  protected List<Entry<URI>> read(URI folder, String path) {
    if (path.chars().filter(c -> c == '/').count() >= MOST_LEVELS) {
      throw failure(folder, "its folders are nested more than " + MOST_LEVELS + " deep");
    }
    Map<String, Entry<URI>> entries = new LinkedHashMap<>();
    for (Element link : page(folder).select("a[href]")) {
      String target = link.absUrl("href");
      if (!target.startsWith(folder.toString()) || target.contains("?") || target.contains("#")) {
        continue;
      }
      String name = target.substring(folder.toString().length());
      boolean isFolder = name.endsWith("/");
      String bare = isFolder ? name.substring(0, name.length() - 1) : name;
      if (!bare.isEmpty() && !bare.contains("/") && !bare.startsWith(".")) {
        String below = path.isEmpty() ? decoded(bare) : path + "/" + decoded(bare);
        entries.put(name, new Entry<>(below, URI.create(target), isFolder));
      }
    }
    return new ArrayList<>(entries.values());
  }

  private static String decoded(String name) {
    return URLDecoder.decode(name.replace("+", "%2B"), StandardCharsets.UTF_8);
  }

  private Element page(URI folder) {
    HttpResponse<InputStream> answer = get.apply(folder);
    String type = answer.headers().firstValue("Content-Type").orElse("");
    try (InputStream in = answer.body()) {
      if (!type.startsWith("text/html") && !type.startsWith("application/xhtml")) {
        throw failure(folder, "the answer is '" + type + "' and not a page that lists files");
      }
      byte[] bytes = in.readNBytes(MOST_BYTES + 1);
      if (bytes.length > MOST_BYTES) {
        throw failure(folder, "the page is larger than 16 MB");
      }
      return Jsoup.parse(new ByteArrayInputStream(bytes), null, folder.toString());
    } catch (IOException e) {
      throw failure(folder, String.valueOf(e.getMessage()));
    }
  }

  private Failure failure(URI folder, String why) {
    return Failure.depot("Depot %s cannot be listed at %s".formatted(depot, folder))
        .because(why)
        .hint("Ask for a page that lists the folder, or name the files one by one");
  }

  @Override
  protected StagedFile staged(Entry<URI> entry) {
    return look.apply(entry.path());
  }
}
