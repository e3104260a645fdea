package dev.dusky.core.dispatch;

import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.reject.RejectSpool;
import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.util.List;
import java.util.Optional;

/**
 * What became of an attempt at a file on another machine.
 *
 * @param outcome the outcome to enter; none if the file has to be loaded where the ledger is
 * @param rejects its rejects; to be closed by the one who has the report
 * @param written the data files that the rows are in, named in the first report of those that share
 *     them
 */
public record FileReport(Optional<FileOutcome> outcome, RejectSpool rejects, List<String> written)
    implements AutoCloseable {

  /** A file that has to be loaded where the ledger is. */
  public static FileReport notHere() {
    return new FileReport(Optional.empty(), new RejectSpool(), List.of());
  }

  /** The same naming these data files. */
  public FileReport with(List<String> files) {
    return new FileReport(outcome, rejects, files);
  }

  /** Reports as bytes. */
  public static byte[] bytes(List<FileReport> reports) {
    return Form.bytes(
        out ->
            out.all(
                reports,
                report -> {
                  out.optional(report.outcome(), o -> OutcomeForm.write(o, out));
                  report.rejects().write(out.data());
                  out.all(report.written(), out::text);
                }));
  }

  /** The reports that bytes are. */
  public static List<FileReport> read(byte[] bytes) throws IOException {
    Form.Input in = new Form.Input(new DataInputStream(new ByteArrayInputStream(bytes)));
    return in.all(
        () ->
            new FileReport(
                in.optional(() -> OutcomeForm.read(in)),
                RejectSpool.read(in.data()),
                in.all(in::text)));
  }

  @Override
  public void close() {
    rejects.close();
  }
}
