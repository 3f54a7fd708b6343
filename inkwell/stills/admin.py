from django.contrib import admin

from .models import Still


@admin.register(Still)
class StillAdmin(admin.ModelAdmin):
    """The picture itself is shown to members only."""

    list_display = ["title", "production", "author", "created", "width", "height"]
    list_filter = ["production"]
    exclude = ["code", "shown"]
