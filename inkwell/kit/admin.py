from django.contrib import admin

from .models import Gear


@admin.register(Gear)
class GearAdmin(admin.ModelAdmin):
    list_display = ["name", "kind", "count", "production"]
    list_filter = ["production", "kind"]
    search_fields = ["name"]
