from django.urls import path

from ridgeback.treatments import views

app_name = "treatments"
urlpatterns = [
    path("animals/<int:pk>/treatments/", views.page, name="page"),
    path("animals/<int:pk>/treatments/stop/", views.stop, name="stop"),
]
