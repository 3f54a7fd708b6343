from django.contrib import admin

from .models import Cell, Trial


@admin.register(Trial)
class TrialAdmin(admin.ModelAdmin):
    list_display = ["title", "production", "author", "created", "stopped"]
    list_filter = ["production"]
    readonly_fields = ["plan"]


@admin.register(Cell)
class CellAdmin(admin.ModelAdmin):
    list_display = ["trial", "row", "column", "state", "seconds", "fault"]
    list_filter = ["state", "trial__production"]
    exclude = ["png", "exr"]
    readonly_fields = ["document", "figures", "words", "key"]
