/** The configuration file: read, checked, written to. */
package dev.dusky.app.config;
