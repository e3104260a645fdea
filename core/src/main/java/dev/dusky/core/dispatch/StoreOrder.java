package dev.dusky.core.dispatch;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;

/**
 * What a machine of the engine needs to reach the store that tables are in. It has no secret.
 *
 * @param worker the class that reaches it, made of such an order's bytes
 * @param configuration the text of the configuration
 * @param file the configuration's path, from whose folder relative paths start
 * @param depot the name of the depot that holds the tables
 */
public record StoreOrder(String worker, String configuration, String file, String depot) {

  /** The order as bytes. */
  public byte[] bytes() {
    return Form.bytes(
        out -> {
          out.text(worker);
          out.text(configuration);
          out.text(file);
          out.text(depot);
        });
  }

  /** The order that bytes are. */
  public static StoreOrder read(byte[] bytes) throws IOException {
    Form.Input in = new Form.Input(new DataInputStream(new ByteArrayInputStream(bytes)));
    return new StoreOrder(in.text(), in.text(), in.text(), in.text());
  }
}
