"""Static files under names that follow from their content."""

from whitenoise.storage import CompressedManifestStaticFilesStorage


class HashedStaticFiles(CompressedManifestStaticFilesStorage):
    """Compressed, with the imports between scripts renamed too."""

    support_js_module_import_aggregation = True
