package dev.dusky.core.dispatch;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;

/** Rows whose hashes one machine works out: those of files, or of a piece of the landing table. */
public sealed interface SurveyPart permits DispatchPart, LandedPart {

  /** The part as bytes. */
  byte[] bytes();

  /** The part that bytes are. */
  static SurveyPart read(byte[] bytes) throws IOException {
    Form.Input in = new Form.Input(new DataInputStream(new ByteArrayInputStream(bytes)));
    return in.data().readBoolean() ? LandedPart.read(in) : DispatchPart.read(in);
  }
}
