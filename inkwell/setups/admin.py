from django.contrib import admin

from .models import Revision, Setup


@admin.register(Setup)
class SetupAdmin(admin.ModelAdmin):
    list_display = ["title", "scene", "version", "changed"]
    list_filter = ["scene__production"]
    search_fields = ["title"]
    readonly_fields = ["version", "current", "redo"]


@admin.register(Revision)
class RevisionAdmin(admin.ModelAdmin):
    list_display = ["setup", "number", "gesture", "author", "created"]
    list_filter = ["setup__scene__production"]

    def has_change_permission(self, request, obj=None):
        return False

    def has_add_permission(self, request):
        return False
