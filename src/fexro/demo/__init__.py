"""The demo project, built through the public interface of the document."""
