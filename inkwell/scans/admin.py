from django.contrib import admin

from .models import Scan


@admin.register(Scan)
class ScanAdmin(admin.ModelAdmin):
    """The surface itself is shown in set-ups only."""

    list_display = ["name", "production", "author", "created", "digest"]
    list_filter = ["production"]
    exclude = ["data"]
