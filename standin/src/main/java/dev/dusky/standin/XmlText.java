package dev.dusky.standin;

import java.io.StringWriter;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;

/** Writes the small XML documents of the protocol. */
final class XmlText {

  private final StringWriter text = new StringWriter();
  private final XMLStreamWriter xml;

  XmlText(String root) {
    try {
      xml = XMLOutputFactory.newFactory().createXMLStreamWriter(text);
      xml.writeStartDocument("UTF-8", "1.0");
      xml.writeStartElement(root);
    } catch (XMLStreamException e) {
      throw failed(e);
    }
  }

  private static IllegalStateException failed(XMLStreamException e) {
    return new IllegalStateException("writing XML into memory cannot fail", e);
  }

  XmlText open(String name) {
    try {
      xml.writeStartElement(name);
      return this;
    } catch (XMLStreamException e) {
      throw failed(e);
    }
  }

  XmlText close() {
    try {
      xml.writeEndElement();
      return this;
    } catch (XMLStreamException e) {
      throw failed(e);
    }
  }

  XmlText put(String name, Object value) {
    try {
      xml.writeStartElement(name);
      xml.writeCharacters(String.valueOf(value));
      xml.writeEndElement();
      return this;
    } catch (XMLStreamException e) {
      throw failed(e);
    }
  }

  /** An element with an attribute. */
  XmlText put(String name, String attribute, String attributeValue, Object value) {
    try {
      xml.writeStartElement(name);
      xml.writeAttribute(attribute, attributeValue);
      xml.writeCharacters(String.valueOf(value));
      xml.writeEndElement();
      return this;
    } catch (XMLStreamException e) {
      throw failed(e);
    }
  }

  String end() {
    try {
      xml.writeEndDocument();
      xml.close();
      return text.toString();
    } catch (XMLStreamException e) {
      throw failed(e);
    }
  }
}
