from django.contrib import admin

from .models import Day


@admin.register(Day)
class DayAdmin(admin.ModelAdmin):
    list_display = ["title", "production", "author", "created"]
    list_filter = ["production"]
