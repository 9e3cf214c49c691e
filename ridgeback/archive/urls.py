from django.urls import path

from ridgeback.archive import views

app_name = "archive"
urlpatterns = [
    path("household/archive/", views.archive_page, name="page"),
    path("animals/take-in/", views.take_in, name="take-in"),
]
