package dev.dusky.core.dispatch;

import dev.dusky.core.expect.Volume;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.repeat.RowHash;
import dev.dusky.core.repeat.RowSecret;
import dev.dusky.core.type.SqlType;
import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What all attempts of a load have in common. It has no secret: the configuration names where they
 * are, and each machine looks there.
 *
 * @param worker the class that attempts files, with a method {@code run(byte[] order, byte[] part)}
 * @param configuration the text of the configuration
 * @param file the configuration's path, from whose folder relative paths start
 * @param feed the feed's name
 * @param tolerance the tolerance that replaces the feed's, if one does
 * @param grown the columns that files have added to the feed
 * @param load the load's number
 * @param at when it began
 * @param table where the landing table is described
 * @param hashes the secret of the row hashes, if repeats are looked for among the rows of several
 *     files
 * @param past the volumes of earlier files, if a file may be refused for its volume
 */
public record DispatchOrder(
    String worker,
    String configuration,
    String file,
    String feed,
    Optional<String> tolerance,
    List<GrownColumn> grown,
    long load,
    Instant at,
    String table,
    Optional<RowSecret> hashes,
    List<Volume> past) {

  /** With a copy of the list. */
  public DispatchOrder {
    past = List.copyOf(past);
  }

  /** An order for a load that has not begun. */
  public static DispatchOrder of(
      String worker, String configuration, String file, String feed, Optional<String> tolerance) {
    return new DispatchOrder(
        worker,
        configuration,
        file,
        feed,
        tolerance,
        List.of(),
        0,
        Instant.EPOCH,
        "",
        Optional.empty(),
        List.of());
  }

  /** The order in a load. */
  public DispatchOrder in(
      long loadId, Instant began, List<GrownColumn> columns, String landing, List<Volume> volumes) {
    return new DispatchOrder(
        worker,
        configuration,
        file,
        feed,
        tolerance,
        columns,
        loadId,
        began,
        landing,
        hashes,
        volumes);
  }

  /** The same with repeats looked for among the rows of several files. */
  public DispatchOrder amongFiles() {
    return new DispatchOrder(
        worker,
        configuration,
        file,
        feed,
        tolerance,
        grown,
        load,
        at,
        table,
        Optional.of(RowHash.secret()),
        past);
  }

  /** The order as bytes. */
  public byte[] bytes() {
    return Form.bytes(
        out -> {
          out.text(worker);
          out.text(configuration);
          out.text(file);
          out.text(feed);
          out.optional(tolerance, out::text);
          out.all(
              grown,
              column -> {
                out.text(column.name());
                out.text(column.field());
                out.text(column.type().toString());
              });
          out.data().writeLong(load);
          out.data().writeLong(at.getEpochSecond());
          out.data().writeInt(at.getNano());
          out.text(table);
          out.optional(
              hashes,
              secret -> {
                out.data().writeLong(secret.first());
                out.data().writeLong(secret.second());
              });
          out.all(past, volume -> write(out, volume));
        });
  }

  /** The order that bytes are. */
  public static DispatchOrder read(byte[] bytes) throws IOException {
    Form.Input in = new Form.Input(new DataInputStream(new ByteArrayInputStream(bytes)));
    return new DispatchOrder(
        in.text(),
        in.text(),
        in.text(),
        in.text(),
        in.optional(in::text),
        in.all(() -> new GrownColumn(in.text(), in.text(), SqlType.parse(in.text()).orElseThrow())),
        in.data().readLong(),
        Instant.ofEpochSecond(in.data().readLong(), in.data().readInt()),
        in.text(),
        in.optional(() -> new RowSecret(in.data().readLong(), in.data().readLong())),
        in.all(() -> volume(in)));
  }

  private static void write(Form.Output out, Volume volume) throws IOException {
    out.text(volume.path());
    out.data().writeLong(volume.at().getEpochSecond());
    out.data().writeInt(volume.at().getNano());
    out.data().writeLong(volume.rows());
    out.data().writeLong(volume.bytes());
    out.data().writeLong(volume.rejected());
    out.data().writeLong(volume.loaded());
    out.all(
        volume.nulls().entrySet(),
        column -> {
          out.text(column.getKey());
          out.data().writeLong(column.getValue());
        });
  }

  private static Volume volume(Form.Input in) throws IOException {
    return new Volume(
        in.text(),
        Instant.ofEpochSecond(in.data().readLong(), in.data().readInt()),
        in.data().readLong(),
        in.data().readLong(),
        in.data().readLong(),
        in.data().readLong(),
        in.all(() -> Map.entry(in.text(), in.data().readLong())).stream()
            .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue)));
  }
}
