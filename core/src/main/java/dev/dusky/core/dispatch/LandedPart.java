package dev.dusky.core.dispatch;

import dev.dusky.core.tables.LandedPiece;
import java.io.IOException;

/**
 * Rows of the landing table, among which repeats are looked for.
 *
 * @param piece the rows
 */
public record LandedPart(LandedPiece piece) implements SurveyPart {

  @Override
  public byte[] bytes() {
    return Form.bytes(
        out -> {
          out.data().writeBoolean(true);
          out.text(piece.table());
          out.text(piece.rows());
        });
  }

  static LandedPart read(Form.Input in) throws IOException {
    return new LandedPart(new LandedPiece(in.text(), in.text()));
  }
}
