from django.urls import path

from ridgeback.archive import views

app_name = "archive"
urlpatterns = [path("household/archive/", views.archive_page, name="page")]
