from django.urls import path

from ridgeback.courses import views

app_name = "courses"
urlpatterns = [
    path("animals/<int:pk>/treatments/", views.page, name="page"),
    path("animals/<int:pk>/treatments/stop/", views.stop, name="stop"),
]
