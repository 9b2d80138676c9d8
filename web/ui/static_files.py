"""Static files with content hashes in their names, including scripts that import one another."""

from whitenoise.storage import CompressedManifestStaticFilesStorage


class HashedStaticFiles(CompressedManifestStaticFilesStorage):
    """A page and all that it loads are of one version, also while the next one is being put in."""

    support_js_module_import_aggregation = True
    #: Each pass renames one import level deeper; the longest chain has six.
    max_post_process_passes = 12
