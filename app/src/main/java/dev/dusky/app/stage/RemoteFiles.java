package dev.dusky.app.stage;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.bytes.TemporaryFolder;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.LocalFiles;
import dev.dusky.core.stage.Origin;
import dev.dusky.depots.Depots;
import dev.dusky.depots.address.DepotAddress;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * Files at URLs that are to be staged. A URL below a declared depot is read with the credentials
 * and connections of that depot; any other with what is usual for its kind of place.
 */
public final class RemoteFiles implements AutoCloseable {

  private static final String SCHEMES = "(https?|sftp|s3|gs|azure)://.*";

  private final Workspace workspace;
  private final List<Depot> opened = new ArrayList<>();

  /** Files that are fetched with the depots of a workspace. */
  public RemoteFiles(Workspace workspace) {
    this.workspace = workspace;
  }

  /** Whether an argument is a URL of such files. */
  public static boolean isUrl(String text) {
    return text.matches(SCHEMES);
  }

  /**
   * A file, and a depot that it is read from.
   *
   * @param name the name that it gets below the folder it is staged to
   */
  private record Remote(Depot depot, StagedFile file, String name) implements Origin {

    @Override
    public String place() {
      return depot.place().replaceFirst(" at .*", "").replaceFirst("/+$", "") + "/" + file.path();
    }

    @Override
    public void fetch(Path to) throws IOException {
      try (InputStream in = depot.open(file)) {
        Files.copy(in, to, StandardCopyOption.REPLACE_EXISTING);
      }
    }
  }

  /** A URL behind which nothing was found. */
  private record Unfetched(String place, Failure failure) implements Origin {

    static LocalFile of(String url, String prefix, Failure failure) {
      String bare = url.replaceFirst("[?].*", "");
      String name = bare.replaceFirst("/+$", "").replaceFirst(".*/", "");
      return new LocalFile(
          Path.of(name),
          prefix + name,
          0,
          Instant.EPOCH,
          Optional.of(new Unfetched(bare, failure)));
    }

    @Override
    public void fetch(Path to) {
      throw failure;
    }
  }

  /**
   * Finds the files of the URLs: one file each, or those that match where a URL has a {@code *}, or
   * all below it where it ends with a slash.
   *
   * @param under the folder in the depot that they go to, or an empty string
   * @param wanted says of each file, by its name below the folder that the URL means, whether it is
   *     meant
   */
  public List<LocalFile> find(List<String> urls, String under, Predicate<Path> wanted)
      throws IOException {
    String prefix = LocalFiles.folder(under);
    Path here = TemporaryFolder.newFolder();
    List<LocalFile> found = new ArrayList<>();
    for (String url : urls) {
      List<Remote> there;
      try {
        there = at(url);
      } catch (Failure failure) {
        if (urls.size() == 1) {
          throw failure;
        }
        // It is reported in its turn, and the others are staged.
        found.add(Unfetched.of(url, prefix, failure));
        continue;
      }
      for (Remote remote : there) {
        if (wanted.test(Path.of(remote.name()))) {
          StagedFile file = remote.file();
          found.add(
              new LocalFile(
                  here.resolve(Integer.toString(found.size())),
                  prefix + remote.name(),
                  file.size(),
                  file.modified(),
                  Optional.of(remote)));
        }
      }
    }
    return LocalFiles.sorted(found);
  }

  private List<Remote> at(String url) {
    RemotePlace place = RemotePlace.of(url, workspace.configuration().depots().values());
    Depot depot = place.declared().map(workspace::depot).orElseGet(() -> open(place.address()));
    String path = place.path();
    if (!path.isEmpty() && !path.contains("*") && !path.endsWith("/")) {
      StagedFile file = depot.look(path).orElseThrow(() -> nothing(place));
      return List.of(new Remote(depot, file, path.substring(path.lastIndexOf('/') + 1)));
    }
    FilePattern pattern = FilePattern.of(path.contains("*") ? path : path + "**");
    int star = pattern.prefix().length();
    String folder = path.substring(0, path.substring(0, star).lastIndexOf('/') + 1);
    List<Remote> matching = new ArrayList<>();
    for (Iterator<StagedFile> files = depot.list(pattern.prefix()); files.hasNext(); ) {
      StagedFile file = files.next();
      if (pattern.matches(file.path())) {
        matching.add(new Remote(depot, file, file.path().substring(folder.length())));
      }
    }
    if (matching.isEmpty()) {
      throw nothing(place);
    }
    return matching;
  }

  private Depot open(DepotAddress address) {
    Depot depot = Depots.open(address, workspace.configuration().base());
    opened.add(depot);
    return depot;
  }

  private static Failure nothing(RemotePlace place) {
    return Failure.usage("There is no file " + place.shown())
        .because(place.address() + " has none of that name")
        .hint("Check the URL; in a URL only * is a wildcard");
  }

  @Override
  public void close() {
    opened.forEach(Depot::close);
  }
}
