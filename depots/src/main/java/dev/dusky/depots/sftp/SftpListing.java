package dev.dusky.depots.sftp;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.depots.folders.TreeListing;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClient.Attributes;

/** Walks the folders of a server. Hidden files are left out. */
final class SftpListing extends TreeListing<SftpListing.Found> {

  /**
   * What a folder has.
   *
   * @param folder whether it is a folder itself
   * @param file the file, if its kind is clear; a link is looked at when its turn comes
   */
  record Found(String name, boolean folder, Attributes file) {}

  private final SftpAddress sftp;
  private final Function<String, List<Found>> names;
  private final Function<String, StagedFile> look;

  SftpListing(
      SftpAddress sftp,
      String prefix,
      String after,
      Function<String, List<Found>> names,
      Function<String, StagedFile> look) {
    super(prefix, after);
    this.sftp = sftp;
    this.names = names;
    this.look = look;
    begin(null);
  }

  /** Reads what is in a folder of the server. */
  static List<Found> names(SftpClient client, String folder) throws IOException {
    List<Found> found = new ArrayList<>();
    for (SftpClient.DirEntry entry : client.readEntries(folder)) {
      String name = entry.getFilename();
      Attributes attributes = entry.getAttributes();
      if (!name.startsWith(".")) {
        boolean folderItself =
            attributes.isDirectory()
                || attributes.isSymbolicLink() && client.stat(folder + "/" + name).isDirectory();
        found.add(new Found(name, folderItself, attributes));
      }
    }
    return found;
  }

  @Override
  protected List<Entry<Found>> read(Found folder, String path) {
    List<Entry<Found>> entries = new ArrayList<>();
    String place = path.isEmpty() ? sftp.root() + "/" : sftp.of(path);
    for (Found each : names.apply(place)) {
      String below = path.isEmpty() ? each.name() : path + "/" + each.name();
      entries.add(new Entry<>(below, each, each.folder()));
    }
    return entries;
  }

  @Override
  protected StagedFile staged(Entry<Found> entry) {
    Attributes file = entry.place().file();
    return file.isRegularFile()
        ? SftpDepot.staged(entry.path(), file)
        : file.isSymbolicLink() ? look.apply(entry.path()) : null;
  }
}
