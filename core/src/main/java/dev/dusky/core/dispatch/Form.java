package dev.dusky.core.dispatch;

import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** The form of orders and reports between processes of the same version: fields in a row. */
final class Form {

  private Form() {}

  interface Writing {
    void into(Output out) throws IOException;
  }

  interface One<T> {
    void write(T value) throws IOException;
  }

  interface Read<T> {
    T read() throws IOException;
  }

  static byte[] bytes(Writing writing) {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try {
      writing.into(new Output(new DataOutputStream(bytes)));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return bytes.toByteArray();
  }

  record Output(DataOutputStream data) {

    void text(String value) throws IOException {
      bytes(value.getBytes(StandardCharsets.UTF_8));
    }

    void bytes(byte[] value) throws IOException {
      data.writeInt(value.length);
      data.write(value);
    }

    <T> void optional(Optional<T> value, One<T> one) throws IOException {
      data.writeBoolean(value.isPresent());
      if (value.isPresent()) {
        one.write(value.get());
      }
    }

    <T> void all(Collection<T> values, One<T> one) throws IOException {
      data.writeInt(values.size());
      for (T value : values) {
        one.write(value);
      }
    }
  }

  record Input(DataInputStream data) {

    String text() throws IOException {
      return new String(bytes(), StandardCharsets.UTF_8);
    }

    byte[] bytes() throws IOException {
      return data.readNBytes(data.readInt());
    }

    <T> Optional<T> optional(Read<T> one) throws IOException {
      return data.readBoolean() ? Optional.of(one.read()) : Optional.empty();
    }

    <T> List<T> all(Read<T> one) throws IOException {
      int count = data.readInt();
      List<T> values = new ArrayList<>();
      for (int i = 0; i < count; i++) {
        values.add(one.read());
      }
      return values;
    }
  }
}
