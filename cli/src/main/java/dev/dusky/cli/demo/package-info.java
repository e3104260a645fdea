/** The demo: the made-up Wrenfold Dairy Cooperative, its files, and a narrated run over them. */
package dev.dusky.cli.demo;
