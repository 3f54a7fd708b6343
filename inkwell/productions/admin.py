from django.contrib import admin

from .models import Membership, Production, Scene


class MembershipInline(admin.TabularInline):
    model = Membership
    extra = 1


class SceneInline(admin.TabularInline):
    model = Scene
    extra = 0


@admin.register(Production)
class ProductionAdmin(admin.ModelAdmin):
    list_display = ["title", "created"]
    search_fields = ["title"]
    inlines = [MembershipInline, SceneInline]


@admin.register(Scene)
class SceneAdmin(admin.ModelAdmin):
    list_display = ["title", "production", "created"]
    list_filter = ["production"]
